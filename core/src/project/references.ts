/** References between the parts of a project: everything named must be declared, ids are unique, and nothing stands on itself. */
import { didYouMean, type Problem } from './problems';
import type { Anchor, Direction, Project } from './schema';

export type Path = (string | number)[];

/** The declared ids of a project, by collection. */
interface Names {
	layer: Set<string>;
	tag: Set<string>;
	side: Set<string>;
	object: Set<string>;
	camera: Set<string>;
	query: Set<string>;
	moment: Set<string>;
}

export type Kind = keyof Names;

/**
 * @param seen called for every reference in the project, declared or not
 * @returns one problem per undeclared or doubled id and per cycle; empty when all is well.
 */
export function checkReferences(project: Project, seen?: (kind: Kind, id: string, path: Path) => void): Problem[] {
	const problems: Problem[] = [];
	const { scene } = project;
	const names: Names = {
		layer: unique(scene.layers, ['scene', 'layers'], 'layer', problems),
		tag: unique(scene.tags, ['scene', 'tags'], 'tag', problems),
		side: unique(scene.sides ?? [], ['scene', 'sides'], 'side', problems),
		object: unique(scene.objects, ['scene', 'objects'], 'object', problems),
		camera: unique(scene.cameras, ['scene', 'cameras'], 'camera', problems),
		query: unique(project.queries, ['queries'], 'query', problems),
		moment: unique(project.moments ?? [], ['moments'], 'moment', problems),
	};
	unique(project.checks ?? [], ['checks'], 'check', problems);
	unique(project.runs ?? [], ['runs'], 'run-through', problems);

	const need = (kind: keyof Names, id: string | null | undefined, path: Path) => {
		if (id === undefined || id === null) return;
		seen?.(kind, id, path);
		if (names[kind].has(id)) return;
		problems.push({ path, message: `no ${kind} "${id}"${didYouMean(id, names[kind])}` });
	};
	const needAll = (kind: keyof Names, ids: readonly string[] | 'all' | undefined, path: Path) => {
		if (ids && ids !== 'all') for (let i = 0; i < ids.length; i++) need(kind, ids[i], [...path, i]);
	};

	scene.tags.forEach((tag, i) => {
		need('tag', tag.under, ['scene', 'tags', i, 'under']);
	});
	(scene.stances ?? []).forEach((entry, i) => {
		need('side', entry.from, ['scene', 'stances', i, 'from']);
		need('side', entry.to, ['scene', 'stances', i, 'to']);
	});
	scene.objects.forEach((object, i) => {
		const path: Path = ['scene', 'objects', i];
		need('layer', object.layer, [...path, 'layer']);
		need('object', object.parent, [...path, 'parent']);
		need('side', object.side, [...path, 'side']);
		need('object', object.standsFor, [...path, 'standsFor']);
		needAll('tag', object.tags, [...path, 'tags']);
		unique(object.shapes ?? [], [...path, 'shapes'], 'shape', problems);
		(object.shapes ?? []).forEach((shape, j) => {
			need('layer', shape.layer, [...path, 'shapes', j, 'layer']);
		});
	});
	scene.cameras.forEach((camera, i) => {
		need('object', camera.object, ['scene', 'cameras', i, 'object']);
	});

	const anchor = (value: Anchor | undefined, path: Path) => {
		if (!value) return;
		need('object', value.object, [...path, 'object']);
		need('object', value.focus, [...path, 'focus']);
		need('camera', value.camera, [...path, 'camera']);
		need('query', value.hitOf, [...path, 'hitOf']);
	};
	const direction = (value: Direction | undefined, path: Path) => {
		if (!value) return;
		anchor(value.toward, [...path, 'toward']);
		if (value.of === undefined) return;
		seen?.(names.object.has(value.of) ? 'object' : 'camera', value.of, [...path, 'of']);
		if (!names.object.has(value.of) && !names.camera.has(value.of))
			problems.push({ path: [...path, 'of'], message: `no object or camera "${value.of}"${didYouMean(value.of, [...names.object, ...names.camera])}` });
	};
	project.queries.forEach((query, i) => {
		const path: Path = ['queries', i];
		need('object', query.asker, [...path, 'asker']);
		needAll('object', query.ignore, [...path, 'ignore']);
		needAll('layer', query.selects?.layers, [...path, 'selects', 'layers']);
		for (const key of ['any', 'all', 'none'] as const) needAll('tag', query.selects?.tags?.[key], [...path, 'selects', 'tags', key]);
		needAll('layer', query.sight?.blockers, [...path, 'sight', 'blockers']);
		anchor(query.range?.from, [...path, 'range', 'from']);
		anchor(query.sight?.from, [...path, 'sight', 'from']);
		direction(query.view?.about, [...path, 'view', 'about']);
		(query.outcomes ?? []).forEach((outcome, j) => {
			need('tag', outcome.tag, [...path, 'outcomes', j, 'tag']);
		});
		if (query.kind === 'ray' || query.kind === 'sweep') {
			anchor(query.from, [...path, 'from']);
			anchor(query.to, [...path, 'to']);
			direction(query.aim, [...path, 'aim']);
		}
		if (query.kind === 'pick') need('camera', query.camera, [...path, 'camera']);
		if (query.kind === 'overlap') {
			anchor(query.at, [...path, 'at']);
			if ('like' in query.shape) need('object', query.shape.like, [...path, 'shape', 'like']);
		}
	});

	(project.moments ?? []).forEach((moment, i) => {
		const path: Path = ['moments', i];
		need('moment', moment.on, [...path, 'on']);
		for (const [id, overlay] of Object.entries(moment.objects ?? {})) {
			const at: Path = [...path, 'objects', id];
			need('object', id, at);
			need('object', overlay.parent, [...at, 'parent']);
			need('layer', overlay.layer, [...at, 'layer']);
			need('side', overlay.side, [...at, 'side']);
			needAll('tag', overlay.tags, [...at, 'tags']);
			const object = scene.objects.find((o) => o.id === id);
			const shapes = (object?.shapes ?? []).map((s) => s.id);
			if (object)
				for (const shape of Object.keys(overlay.shapes ?? {}))
					if (!shapes.includes(shape))
						problems.push({ path: [...at, 'shapes', shape], message: `"${id}" has no shape "${shape}"${didYouMean(shape, shapes)}` });
		}
		for (const id of Object.keys(moment.cameras ?? {})) need('camera', id, [...path, 'cameras', id]);
		for (const [id, overlay] of Object.entries(moment.queries ?? {})) {
			need('query', id, [...path, 'queries', id]);
			const query = project.queries.find((q) => q.id === id);
			if (overlay.cursor && query && query.kind !== 'pick')
				problems.push({ path: [...path, 'queries', id, 'cursor'], message: `only a pick has a cursor; "${id}" is a ${query.kind}` });
		}
	});

	(project.checks ?? []).forEach((check, i) => {
		const path: Path = ['checks', i];
		need('query', check.query, [...path, 'query']);
		need('moment', check.moment, [...path, 'moment']);
		const at: Path = [...path, 'expect'];
		for (const key of ['selects', 'tie', 'not'] as const) needAll('object', check.expect[key], [...at, key]);
		need('object', check.expect.blocked?.object, [...at, 'blocked', 'object']);
		need('object', check.expect.blocked?.by, [...at, 'blocked', 'by']);
	});

	cycles(scene.tags, (tag) => tag.under, ['scene', 'tags'], 'under', problems);
	cycles(scene.objects, (object) => object.parent, ['scene', 'objects'], 'parent', problems);
	cycles(project.moments ?? [], (moment) => moment.on, ['moments'], 'on', problems);
	hitOfCycles(project, problems);
	standIns(project, problems);
	return problems;
}

function unique(items: readonly { id: string }[], path: Path, what: string, problems: Problem[]): Set<string> {
	const first = new Map<string, number>();
	items.forEach((entry, i) => {
		const before = first.get(entry.id);
		if (before === undefined) first.set(entry.id, i);
		else problems.push({ path: [...path, i, 'id'], message: `the ${what} id "${entry.id}" is already used by entry ${before}; ids are unique` });
	});
	return new Set(first.keys());
}

function cycles<T extends { id: string }>(items: readonly T[], next: (item: T) => string | undefined, path: Path, key: string, problems: Problem[]): void {
	const byId = new Map(items.map((entry) => [entry.id, entry]));
	const settled = new Set<string>();
	items.forEach((start, i) => {
		const seen: string[] = [];
		const onWay = new Set<string>();
		let current: T | undefined = start;
		while (current && !settled.has(current.id) && !onWay.has(current.id)) {
			seen.push(current.id);
			onWay.add(current.id);
			const after: string | undefined = next(current);
			current = after === undefined ? undefined : byId.get(after);
		}
		if (current && onWay.has(current.id)) {
			const loop = [...seen.slice(seen.indexOf(current.id)), current.id];
			problems.push({ path: [...path, i, key], message: `goes round in a circle: ${loop.join(' → ')}` });
		}
		for (const id of seen) settled.add(id);
	});
}

/** A parent cycle that only exists at one moment. */
export function parentCycle(objects: readonly { id: string; parent?: string | undefined }[], path: Path): Problem[] {
	const problems: Problem[] = [];
	cycles(objects, (object) => object.parent, path, 'parent', problems);
	return problems;
}

/** All anchors of a query that hang on another query's hit. */
export function hitsNeeded(query: Project['queries'][number]): string[] {
	const anchors: (Anchor | undefined)[] = [query.range?.from, query.sight?.from, query.view?.about?.toward];
	if (query.kind === 'ray' || query.kind === 'sweep') anchors.push(query.from, query.to, query.aim?.toward);
	if (query.kind === 'overlap') anchors.push(query.at);
	return anchors.flatMap((a) => (a?.hitOf === undefined ? [] : [a.hitOf]));
}

function hitOfCycles(project: Project, problems: Problem[]): void {
	const needs = new Map(project.queries.map((query) => [query.id, hitsNeeded(query)]));
	const done = new Set<string>();
	const reported = new Set<string>();
	project.queries.forEach((query, i) => {
		const stack: { id: string; next: number }[] = [{ id: query.id, next: 0 }];
		const way = new Set<string>([query.id]);
		while (stack.length > 0) {
			const top = stack[stack.length - 1];
			if (!top) break;
			const after = done.has(top.id) ? undefined : needs.get(top.id)?.[top.next++];
			if (after === undefined) {
				done.add(top.id);
				way.delete(top.id);
				stack.pop();
			} else if (way.has(after)) {
				const ids = stack.map((s) => s.id);
				const loop = [...ids.slice(ids.indexOf(after)), after];
				const key = [...loop].sort().join(' ');
				if (!reported.has(key)) problems.push({ path: ['queries', i], message: `"hitOf" goes round in a circle: ${loop.join(' → ')}` });
				reported.add(key);
			} else if (!done.has(after)) {
				way.add(after);
				stack.push({ id: after, next: 0 });
			}
		}
	});
}

function standIns(project: Project, problems: Problem[]): void {
	const { objects } = project.scene;
	const standing = new Set(objects.filter((o) => o.standsFor !== undefined).map((o) => o.id));
	objects.forEach((object, i) => {
		if (object.standsFor === undefined) return;
		const path: Path = ['scene', 'objects', i, 'standsFor'];
		if (object.standsFor === object.id) problems.push({ path, message: 'an object cannot stand for itself' });
		else if (standing.has(object.standsFor)) problems.push({ path, message: `"${object.standsFor}" itself stands for another object; name that one` });
	});
}
