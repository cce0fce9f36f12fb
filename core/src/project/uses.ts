/** Where the things of a project are used, and how to take one away without leaving a reference behind. */
import { isStill } from './check-kinds';
import { collectionAt, entriesOf, type ReferenceKind } from './collections';
import { checkReferences, type JsonPath } from './references';
import type { Project, Query } from './schema';

/** @returns the place of every reference to a thing, in file order */
export function usesOf(project: Project, kind: ReferenceKind, id: string): JsonPath[] {
	const found: JsonPath[] = [];
	checkReferences(project, undefined, (k, used, path) => {
		if (k === kind && used === id) found.push(path);
	});
	return found;
}

/** A place in words: `query Reach: asker`, `Crate 4: parent`. */
export function wordsOfUse(project: Project, path: JsonPath): string {
	const at = collectionAt(path);
	if (path[1] === 'stances') return 'a stance between sides';
	const [index, ...rest] = at?.below ?? path.slice(1);
	const entry = typeof index === 'number' ? at?.collection.of(project)?.[index] : undefined;
	const what = at && at.collection.kind !== 'object' ? `${at.collection.noun} ` : '';
	const where = words(rest.filter((step) => step !== 'selects' && step !== 'expect'));
	return `${what}${entry?.name ?? entry?.id ?? path[0]}${where ? `: ${where}` : ''}`;
}

const words = (path: JsonPath): string => path.filter((step) => typeof step === 'string').join(' ');

// biome-ignore lint/suspicious/noExplicitAny: a walk along a path of any shape
type Tree = any;

const holder = (root: Tree, path: JsonPath): Tree => path.slice(0, -1).reduce((at: Tree, step) => at?.[step], root);

/** Puts another id in every place where one is used. @returns a new project; declared things stay as they are */
export function replaceUses(project: Project, kind: ReferenceKind, from: string, to: string): Project {
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

/** Whether a query says something that has no meaning without an asker. */
function needsAsker(query: Query): boolean {
	const forward =
		query.kind === 'overlap' &&
		query.view?.about === undefined &&
		(query.view !== undefined || query.choose?.by?.some((r) => r.rule === 'aim'));
	const asked = [...(query.selects?.when ?? []), ...(query.outcomes ?? []).flatMap((o) => o.when ?? [])];
	return forward === true || asked.some((c) => c.of === 'asker');
}

/** Takes a reference out of a run, or marks the part that cannot do without it. */
function removeFromRun(next: Project, path: JsonPath, id: string, dropped: Set<unknown>): void {
	const run = next.runs?.[path[1] as number];
	if (!run) return;
	const [part, j, of, k] = path.slice(2);
	if (part === 'moment') delete run.moment;
	else if (part === 'watch') dropped.add(run.watch?.[j as number]);
	else if (part === 'swings') dropped.add(run.swings?.[j as number]);
	else if (part === 'tracks' && of !== 'keys') dropped.add(run.tracks?.[j as number]);
	else if (part === 'tracks') {
		const key = run.tracks?.[j as number]?.keys[k as number] as Tree;
		const field = path[6] as string;
		if (!key) return;
		if (Array.isArray(key[field])) key[field].splice(key[field].indexOf(id), 1);
		else delete key[field];
	}
}

/** Takes a reference out of a map, or marks the map that cannot do without it. */
function removeFromMap(next: Project, path: JsonPath, id: string, dropped: Set<unknown>): void {
	const map = next.maps?.[path[1] as number];
	if (!map) return;
	if (path[2] === 'query') dropped.add(map);
	else if (path[2] === 'moment') delete map.moment;
	else if (map.clear && map.clear.layers !== 'all') {
		map.clear.layers = map.clear.layers.filter((layer) => layer !== id);
		if (map.clear.layers.length === 0) delete map.clear;
	}
}

/** Takes out the maps that were marked, with the checks of them. */
function tidyMaps(next: Project, dropped: ReadonlySet<unknown>, gone: string[]): void {
	const lost = new Set((next.maps ?? []).filter((m) => dropped.has(m)).map((m) => m.id));
	if (lost.size === 0) return;
	for (const map of next.maps ?? []) if (lost.has(map.id)) gone.push(`map ${map.name ?? map.id}`);
	next.maps = next.maps?.filter((m) => !lost.has(m.id));
	next.checks = next.checks?.filter((check) => {
		const stays = !('map' in check) || !lost.has(check.map);
		if (!stays) gone.push(`check ${check.name ?? check.id}`);
		return stays;
	});
}

/** Takes out what was marked, with the presses and checks on it; swings that move up take their checks along. */
function tidyRuns(next: Project, dropped: ReadonlySet<unknown>, gone: string[]): void {
	for (const effect of next.effects ?? [])
		effect.do = effect.do.filter(
			(line) => !dropped.has(line) && (line.set === undefined || Object.keys(line.set).length > 0),
		);
	for (const run of next.runs ?? []) {
		for (const track of run.tracks ?? [])
			track.keys = track.keys.filter((key) => Object.keys(key).some((field) => field !== 't'));
		if (run.tracks) run.tracks = run.tracks.filter((track) => !dropped.has(track) && track.keys.length > 0);
		const lost = new Set((run.watch ?? []).filter((w) => dropped.has(w)).map((w) => w.id ?? w.query));
		if (run.watch) run.watch = run.watch.filter((w) => !dropped.has(w));
		if (run.presses) run.presses = run.presses.filter((press) => !lost.has(press.watch));
		const places = (run.swings ?? []).map((swing) => !dropped.has(swing));
		if (run.swings) run.swings = run.swings.filter((swing) => !dropped.has(swing));
		if (lost.size === 0 && !places.includes(false)) continue;
		next.checks = next.checks?.filter((check) => {
			if (!('run' in check) || check.run !== run.id) return true;
			const { swing } = check;
			const stays = swing === undefined ? !lost.has(check.watch ?? '') : places[swing] === true;
			if (!stays) gone.push(`check ${check.name ?? check.id}`);
			else if (swing !== undefined) check.swing = places.slice(0, swing).filter(Boolean).length;
			return stays;
		});
	}
}

/**
 * Takes a thing out of a project with every reference to it: what can do without it loses the reference, what cannot (a query that
 * starts at it, a check of it, an object on the layer) goes too.
 * @param gone names of what went with it are added here
 * @returns a new project
 */
export function removeReferences(project: Project, kind: ReferenceKind, id: string, gone: string[] = []): Project {
	let next: Project = JSON.parse(JSON.stringify(project)) as Project;
	const list = entriesOf(next, kind);
	const index = list?.findIndex((entry) => entry.id === id) ?? -1;
	if (!list || index < 0) return next;
	const uses = usesOf(project, kind, id);
	const further: [ReferenceKind, string][] = [];
	const checks = new Set<string>();
	const stances = new Set<unknown>();
	/** Tracks, watch entries, swings and lines of effects that cannot do without it. */
	const dropped = new Set<unknown>();
	for (const path of uses) {
		const at = holder(next, path);
		const last = path[path.length - 1] as string | number;
		const [head, k] = path;
		if (at === undefined) continue;
		if (head === 'checks') {
			const check = next.checks?.[k as number];
			if (!check) continue;
			if (isStill(check) && path[3] === 'not') at.splice(at.indexOf(id), 1);
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
			const bears = query.kind === 'overlap' && part === 'room' ? query.room : undefined;
			if (bears) {
				at.splice(at.indexOf(id), 1);
				if (at.length === 0) delete bears.on;
			} else if (part === 'outcomes') query.outcomes = query.outcomes?.filter((o) => o.tag !== id);
			else if (spare) at.splice(at.indexOf(id), 1);
			else if (part === 'selects' && at.length > 1) at.splice(at.indexOf(id), 1);
			else if (part === 'asker' && query.kind !== 'hitbox' && !needsAsker(query)) delete query.asker;
			else if (part === 'range' && sub === 'from') delete query.range?.from;
			else if (part === 'sight' && sub === 'from') delete query.sight?.from;
			else further.push(['query', query.id]);
		} else if (head === 'runs') removeFromRun(next, path, id, dropped);
		else if (head === 'maps') removeFromMap(next, path, id, dropped);
		else if (head === 'effects') {
			const line = next.effects?.[k as number]?.do[path[3] as number];
			if (!line) continue;
			if (path[4] !== 'set') dropped.add(line);
			else if (Array.isArray(at)) at.splice(at.indexOf(id), 1);
			else delete at[last];
		} else if (path[1] === 'stances') stances.add(at);
		else if (path[1] === 'objects' && last === 'layer' && path.length === 4) further.push(['object', at.id]);
		else if (Array.isArray(at)) at.splice(at.indexOf(id), 1);
		else if (head === 'moments' && last === 'layer') delete at.layer;
		else delete at[last];
	}
	tidyRuns(next, dropped, gone);
	tidyMaps(next, dropped, gone);
	if (stances.size > 0) next.scene.stances = next.scene.stances?.filter((s) => !stances.has(s));
	if (checks.size > 0) {
		for (const check of next.checks ?? []) if (checks.has(check.id)) gone.push(`check ${check.name ?? check.id}`);
		next.checks = next.checks?.filter((c) => !checks.has(c.id));
	}
	list.splice(index, 1);
	for (const [what, other] of further) {
		const name = entriesOf(next, what)?.find((entry) => entry.id === other);
		if (!name) continue;
		gone.push(`${what} ${name.name ?? name.id}`);
		next = removeReferences(next, what, other, gone);
	}
	return next;
}
