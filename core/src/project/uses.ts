/** Where the things of a project are used, and how to take one away without leaving a reference behind. */
import { checkReferences, type Kind, type Path } from './references';
import type { Project, Query } from './schema';

/** @returns the place of every reference to a thing, in file order */
export function usesOf(project: Project, kind: Kind, id: string): Path[] {
	const found: Path[] = [];
	checkReferences(project, undefined, (k, used, path) => {
		if (k === kind && used === id) found.push(path);
	});
	return found;
}

interface Named {
	id: string;
	name?: string | undefined;
}

/** A place in words: `query Reach: asker`, `Crate 4: parent`. */
export function wordsOfUse(project: Project, path: Path): string {
	const [head, at, ...rest] = path[0] === 'scene' ? path.slice(1) : path;
	const lists: Record<string, readonly Named[] | undefined> = {
		objects: project.scene.objects,
		tags: project.scene.tags,
		cameras: project.scene.cameras,
		queries: project.queries,
		moments: project.moments,
		checks: project.checks,
	};
	const item = typeof at === 'number' ? lists[String(head)]?.[at] : undefined;
	const words = rest.filter((step) => typeof step === 'string' && step !== 'selects' && step !== 'expect').join(' ');
	if (head === 'stances') return 'a stance between sides';
	const what =
		{ objects: '', queries: 'query ', moments: 'moment ', checks: 'check ', cameras: 'camera ', tags: 'tag ' }[
			String(head)
		] ?? '';
	return `${what}${item?.name ?? item?.id ?? head}${words ? `: ${words}` : ''}`;
}

// biome-ignore lint/suspicious/noExplicitAny: a walk along a path of any shape
type Tree = any;

const holder = (root: Tree, path: Path): Tree => path.slice(0, -1).reduce((at: Tree, step) => at?.[step], root);

/** Puts another id in every place where one is used. @returns a new project; declared things stay as they are */
export function replaceUses(project: Project, kind: Kind, from: string, to: string): Project {
	const next = JSON.parse(JSON.stringify(project)) as Project;
	for (const path of usesOf(project, kind, from)) {
		const at = holder(next, path);
		const last = path[path.length - 1] as string | number;
		if (last === from && !Array.isArray(at)) {
			// A key of a moment: what it lays over the one it lays over the other, where that has none of its own.
			at[to] ??= at[from];
			delete at[from];
		} else if (Array.isArray(at) && at.includes(to)) at.splice(at.indexOf(from), 1);
		else at[last] = to;
	}
	return next;
}

const COLLECTIONS: Record<Kind, (p: Project) => Named[] | undefined> = {
	layer: (p) => p.scene.layers,
	tag: (p) => p.scene.tags,
	side: (p) => p.scene.sides,
	object: (p) => p.scene.objects,
	camera: (p) => p.scene.cameras,
	query: (p) => p.queries,
	moment: (p) => p.moments,
};

/** Whether a query says something that has no meaning without an asker. */
function needsAsker(query: Query): boolean {
	const forward =
		query.kind === 'overlap' &&
		query.view?.about === undefined &&
		(query.view !== undefined || query.choose?.by?.some((r) => r.rule === 'aim'));
	return forward === true || (query.selects?.when?.some((c) => c.of === 'asker') ?? false);
}

/**
 * Takes a thing out of a project with every reference to it: what can do without it loses the reference, what cannot (a query that
 * starts at it, a check of it, an object on the layer) goes too.
 * @param gone names of what went with it are added here
 * @returns a new project
 */
export function removeReferences(project: Project, kind: Kind, id: string, gone: string[] = []): Project {
	let next: Project = JSON.parse(JSON.stringify(project)) as Project;
	const list = COLLECTIONS[kind](next);
	const index = list?.findIndex((entry) => entry.id === id) ?? -1;
	if (!list || index < 0) return next;
	const uses = usesOf(project, kind, id);
	const further: [Kind, string][] = [];
	const checks = new Set<string>();
	const stances = new Set<unknown>();
	for (const path of uses) {
		const at = holder(next, path);
		const last = path[path.length - 1] as string | number;
		const [head, k] = path;
		if (at === undefined) continue;
		if (head === 'checks') {
			const check = next.checks?.[k as number];
			if (!check) continue;
			if (path[3] === 'not') at.splice(at.indexOf(id), 1);
			else checks.add(check.id);
		} else if (head === 'queries') {
			const query = next.queries[k as number];
			if (!query) continue;
			const [part, sub] = [path[2], path[3]];
			const spare =
				part === 'ignore' ||
				part === 'outcomes' ||
				(part === 'selects' && sub === 'tags') ||
				(part === 'sight' && sub === 'blockers');
			if (part === 'outcomes') query.outcomes = query.outcomes?.filter((o) => o.tag !== id);
			else if (spare) at.splice(at.indexOf(id), 1);
			else if (part === 'selects' && at.length > 1) at.splice(at.indexOf(id), 1);
			else if (part === 'asker' && query.kind !== 'hitbox' && !needsAsker(query)) delete query.asker;
			else if (part === 'range' && sub === 'from') delete query.range?.from;
			else if (part === 'sight' && sub === 'from') delete query.sight?.from;
			else further.push(['query', query.id]);
		} else if (path[1] === 'stances') stances.add(at);
		else if (path[1] === 'objects' && last === 'layer' && path.length === 4) further.push(['object', at.id]);
		else if (Array.isArray(at)) at.splice(at.indexOf(id), 1);
		else if (head === 'moments' && last === 'layer') delete at.layer;
		else delete at[last];
	}
	if (stances.size > 0) next.scene.stances = next.scene.stances?.filter((s) => !stances.has(s));
	if (checks.size > 0) {
		for (const check of next.checks ?? []) if (checks.has(check.id)) gone.push(`check ${check.name ?? check.id}`);
		next.checks = next.checks?.filter((c) => !checks.has(c.id));
	}
	list.splice(index, 1);
	for (const [what, other] of further) {
		const name = COLLECTIONS[what](next)?.find((entry) => entry.id === other);
		if (!name) continue;
		gone.push(`${what} ${name.name ?? name.id}`);
		next = removeReferences(next, what, other, gone);
	}
	return next;
}
