/** References between the parts of a project: everything named must be declared, ids are unique, and nothing stands on itself. */

import { MAX_CHAIN } from './bounds';
import { COLLECTIONS, type EntryKind, type ReferenceKind } from './collections';
import { takeOf } from './defaults';
import { didYouMean, type JsonPath, Problems, quoted } from './problems';
import type { Anchor, Direction, Moment, Project } from './schema';

export type { JsonPath } from './problems';

/**
 * Adds one problem per undeclared or doubled id, per cycle and per chain that is too long.
 * @param seen called for every reference in the project, declared or not
 */
export function checkReferences(
	project: Project,
	problems = new Problems(),
	seen?: (kind: ReferenceKind, id: string, path: JsonPath) => void,
): void {
	const { scene } = project;
	const names = {} as Record<EntryKind, Set<string>>;
	for (const { kind, path, of, noun } of COLLECTIONS)
		names[kind] = unique(of(project) ?? [], [...path], noun, problems);

	const need = (kind: ReferenceKind, id: string | null | undefined, path: JsonPath) => {
		if (id === undefined || id === null) return;
		seen?.(kind, id, path);
		if (!names[kind].has(id)) problems.add(path, () => `no ${kind} ${quoted(id)}${didYouMean(id, names[kind])}`);
	};
	const needAll = (kind: ReferenceKind, ids: readonly string[] | 'all' | undefined, path: JsonPath) => {
		if (!ids || ids === 'all') return;
		for (let i = 0; i < ids.length; i++)
			if (seen || !names[kind].has(ids[i] as string)) need(kind, ids[i], [...path, i]);
	};

	scene.tags.forEach((tag, i) => {
		need('tag', tag.under, ['scene', 'tags', i, 'under']);
	});
	(scene.stances ?? []).forEach((entry, i) => {
		need('side', entry.from, ['scene', 'stances', i, 'from']);
		need('side', entry.to, ['scene', 'stances', i, 'to']);
	});
	scene.objects.forEach((object, i) => {
		const path: JsonPath = ['scene', 'objects', i];
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

	const anchor = (value: Anchor | undefined, path: JsonPath) => {
		if (!value) return;
		need('object', value.object, [...path, 'object']);
		need('object', value.focus, [...path, 'focus']);
		need('camera', value.camera, [...path, 'camera']);
		need('query', value.hitOf, [...path, 'hitOf']);
	};
	const direction = (value: Direction | undefined, path: JsonPath) => {
		if (!value) return;
		anchor(value.toward, [...path, 'toward']);
		if (value.of === undefined) return;
		seen?.(names.object.has(value.of) ? 'object' : 'camera', value.of, [...path, 'of']);
		const { of } = value;
		if (!names.object.has(of) && !names.camera.has(of))
			problems.add(
				[...path, 'of'],
				() => `no object or camera ${quoted(of)}${didYouMean(of, [...names.object, ...names.camera])}`,
			);
	};
	project.queries.forEach((query, i) => {
		const path: JsonPath = ['queries', i];
		need('object', query.asker, [...path, 'asker']);
		needAll('object', query.ignore, [...path, 'ignore']);
		needAll('layer', query.selects?.layers, [...path, 'selects', 'layers']);
		for (const key of ['any', 'all', 'none'] as const)
			needAll('tag', query.selects?.tags?.[key], [...path, 'selects', 'tags', key]);
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
			anchor(query.arc?.at, [...path, 'arc', 'at']);
		}
		if (query.kind === 'pick') need('camera', query.camera, [...path, 'camera']);
		if (query.kind === 'overlap') {
			anchor(query.at, [...path, 'at']);
			if ('like' in query.shape) need('object', query.shape.like, [...path, 'shape', 'like']);
			needAll('layer', query.room?.on?.layers, [...path, 'room', 'on', 'layers']);
		}
	});

	const objectById = new Map(scene.objects.map((o) => [o.id, o]));
	const queryById = new Map(project.queries.map((q) => [q.id, q]));
	(project.moments ?? []).forEach((moment, i) => {
		const path: JsonPath = ['moments', i];
		need('moment', moment.on, [...path, 'on']);
		for (const [id, overlay] of Object.entries(moment.objects ?? {})) {
			const at: JsonPath = [...path, 'objects', id];
			need('object', id, at);
			need('object', overlay.parent, [...at, 'parent']);
			need('layer', overlay.layer, [...at, 'layer']);
			need('side', overlay.side, [...at, 'side']);
			needAll('tag', overlay.tags, [...at, 'tags']);
			const object = objectById.get(id);
			if (!object || !overlay.shapes) continue;
			const shapes = new Set((object.shapes ?? []).map((s) => s.id));
			for (const shape of Object.keys(overlay.shapes))
				if (!shapes.has(shape))
					problems.add(
						[...at, 'shapes', shape],
						() => `"${id}" has no shape ${quoted(shape)}${didYouMean(shape, shapes)}`,
					);
		}
		for (const id of Object.keys(moment.cameras ?? {})) need('camera', id, [...path, 'cameras', id]);
		for (const [id, overlay] of Object.entries(moment.queries ?? {})) {
			need('query', id, [...path, 'queries', id]);
			const query = queryById.get(id);
			if (overlay.cursor && query && query.kind !== 'pick')
				problems.add([...path, 'queries', id, 'cursor'], `only a pick has a cursor; "${id}" is a ${query.kind}`);
		}
	});

	const runs = new Map((project.runs ?? []).map((r) => [r.id, r]));
	(project.runs ?? []).forEach((run, i) => {
		const path: JsonPath = ['runs', i];
		need('moment', run.moment, [...path, 'moment']);
		const tracked = new Map<string, number>();
		(run.tracks ?? []).forEach((track, j) => {
			const at: JsonPath = [...path, 'tracks', j];
			const [kind, id] =
				track.object !== undefined
					? (['object', track.object] as const)
					: track.camera !== undefined
						? (['camera', track.camera] as const)
						: track.query !== undefined
							? (['query', track.query] as const)
							: ([null, ''] as const);
			if (kind) need(kind, id, [...at, kind]);
			const key = `${kind ?? 'scene'} ${id}`;
			const before = tracked.get(key);
			if (before === undefined) tracked.set(key, j);
			else
				problems.add(
					[...at, kind ?? 'scene'],
					`${kind ? `the ${kind} "${id}"` : 'the scene'} has a track already, entry ${before}; one track for a thing at most`,
				);
			const shapes = kind === 'object' ? objectById.get(id)?.shapes : undefined;
			const isPick = kind !== 'query' || queryById.get(id)?.kind === 'pick';
			track.keys.forEach((given, k) => {
				const here: JsonPath = [...at, 'keys', k];
				need('object', given.parent, [...here, 'parent']);
				need('layer', given.layer, [...here, 'layer']);
				need('side', given.side, [...here, 'side']);
				needAll('tag', given.tags, [...here, 'tags']);
				if (given.cursor && !isPick && queryById.has(id))
					problems.add([...here, 'cursor'], `only a pick has a cursor; "${id}" is a ${queryById.get(id)?.kind}`);
				if (kind !== 'object' || !objectById.has(id)) return;
				for (const shape of Object.keys(given.shapes ?? {}))
					if (!shapes?.some((s) => s.id === shape))
						problems.add(
							[...here, 'shapes', shape],
							() =>
								`"${id}" has no shape ${quoted(shape)}${didYouMean(
									shape,
									(shapes ?? []).map((s) => s.id),
								)}`,
						);
			});
		});
		const watched = new Map<string, number>();
		(run.watch ?? []).forEach((entry, j) => {
			const at: JsonPath = [...path, 'watch', j];
			need('query', entry.query, [...at, 'query']);
			const id = entry.id ?? entry.query;
			const before = watched.get(id);
			if (before === undefined) watched.set(id, j);
			else
				problems.add(
					entry.id === undefined ? at : [...at, 'id'],
					`the id "${id}" is already used by entry ${before}; ids of watch entries are unique in a run`,
				);
			const query = queryById.get(entry.query);
			if (entry.stick && query && takeOf(query) !== 1)
				problems.add([...at, 'stick'], `"stick" is for queries that take 1; "${entry.query}" takes ${takeOf(query)}`);
		});
		(run.swings ?? []).forEach((swing, j) => {
			need('query', swing.query, [...path, 'swings', j, 'query']);
			const query = queryById.get(swing.query);
			if (query && query.kind !== 'hitbox')
				problems.add([...path, 'swings', j, 'query'], `only a hitbox swings; "${swing.query}" is a ${query.kind}`);
		});
		(run.presses ?? []).forEach((press, j) => {
			if (!watched.has(press.watch))
				problems.add(
					[...path, 'presses', j, 'watch'],
					() => `no watch entry ${quoted(press.watch)}${didYouMean(press.watch, [...watched.keys()])}`,
				);
			else if (press.do !== undefined && run.watch?.[watched.get(press.watch) ?? -1]?.keeps !== 'lock')
				problems.add(
					[...path, 'presses', j, 'do'],
					`"do" acts on a lock: the entry "${press.watch}" does not keep one`,
				);
		});
	});
	const acted = new Map<string, number>();
	(project.effects ?? []).forEach((effect, i) => {
		const before = acted.get(effect.action);
		if (before === undefined) acted.set(effect.action, i);
		else
			problems.add(
				['effects', i, 'action'],
				() => `${quoted(effect.action)} has an effect already, entry ${before}; an action has one`,
			);
		effect.do.forEach((line, j) => {
			const at: JsonPath = ['effects', i, 'do', j];
			if (typeof line.of === 'object') need('object', line.of.object, [...at, 'of', 'object']);
			if (typeof line.carriedBy === 'object') need('object', line.carriedBy.object, [...at, 'carriedBy', 'object']);
			need('object', line.set?.parent, [...at, 'set', 'parent']);
			need('layer', line.set?.layer, [...at, 'set', 'layer']);
			need('side', line.set?.side, [...at, 'set', 'side']);
			needAll('tag', line.set?.tags, [...at, 'set', 'tags']);
			const of = typeof line.of === 'object' ? objectById.get(line.of.object) : undefined;
			if (!of) return;
			for (const shape of Object.keys(line.set?.shapes ?? {}))
				if (!of.shapes?.some((s) => s.id === shape))
					problems.add([...at, 'set', 'shapes', shape], () => `"${of.id}" has no shape ${quoted(shape)}`);
		});
	});

	(project.maps ?? []).forEach((map, i) => {
		const path: JsonPath = ['maps', i];
		need('query', map.query, [...path, 'query']);
		need('moment', map.moment, [...path, 'moment']);
		needAll('layer', map.clear?.layers, [...path, 'clear', 'layers']);
	});

	(project.checks ?? []).forEach((check, i) => {
		const path: JsonPath = ['checks', i];
		if ('run' in check) {
			const run = runs.get(check.run);
			const { expect } = check;
			if (!run)
				problems.add([...path, 'run'], () => `no run ${quoted(check.run)}${didYouMean(check.run, runs.keys())}`);
			else if (check.watch !== undefined) {
				const ids = (run.watch ?? []).map((w) => w.id ?? w.query);
				if (!ids.includes(check.watch))
					problems.add(
						[...path, 'watch'],
						() =>
							`the run "${run.id}" has no watch entry ${quoted(check.watch ?? '')}${didYouMean(check.watch ?? '', ids)}`,
					);
			} else if (check.swing !== undefined && check.swing >= (run.swings?.length ?? 0))
				problems.add(
					[...path, 'swing'],
					`the run "${run.id}" has no swing ${check.swing}; it has ${run.swings?.length ?? 0}, counted from 0`,
				);
			for (const key of ['selects', 'tie', 'hits', 'never', 'held'] as const)
				needAll('object', expect[key], [...path, 'expect', key]);
			(expect.sequence ?? []).forEach((id, j) => {
				need('object', id, [...path, 'expect', 'sequence', j]);
			});
			return;
		}
		if ('map' in check) {
			if (!names.map.has(check.map))
				problems.add([...path, 'map'], () => `no map ${quoted(check.map)}${didYouMean(check.map, names.map)}`);
			need('object', check.expect.object, [...path, 'expect', 'object']);
			needAll('object', check.expect.never, [...path, 'expect', 'never']);
			return;
		}
		need('query', check.query, [...path, 'query']);
		need('moment', check.moment, [...path, 'moment']);
		const at: JsonPath = [...path, 'expect'];
		for (const key of ['selects', 'tie', 'not'] as const) needAll('object', check.expect[key], [...at, key]);
		const asked = queryById.get(check.query);
		if (check.expect.room !== undefined && asked && !('room' in asked && asked.room))
			problems.add([...at, 'room'], `"${asked.id}" does not ask for room`);
		need('object', check.expect.blocked?.object, [...at, 'blocked', 'object']);
		need('object', check.expect.blocked?.by, [...at, 'blocked', 'by']);
	});

	cycles(scene.tags, (tag) => tag.under, ['scene', 'tags'], 'under', problems);
	cycles(scene.objects, (object) => object.parent, ['scene', 'objects'], 'parent', problems);
	cycles(project.moments ?? [], (moment) => moment.on, ['moments'], 'on', problems);
	hitOfCycles(project, problems);
	standIns(project, problems);
}

function unique(items: readonly { id: string }[], path: JsonPath, what: string, problems: Problems): Set<string> {
	const first = new Map<string, number>();
	items.forEach((entry, i) => {
		const before = first.get(entry.id);
		if (before === undefined) first.set(entry.id, i);
		else
			problems.add(
				[...path, i, 'id'],
				`the ${what} id "${entry.id}" is already used by entry ${before}; ids are unique`,
			);
	});
	return new Set(first.keys());
}

/** `a → b → … → z`: of a long line the two ends. */
function line(ids: readonly string[]): string {
	return (ids.length > 12 ? [...ids.slice(0, 6), `… ${ids.length - 10} more …`, ...ids.slice(-4)] : ids).join(' → ');
}

function cycles<T extends { id: string }>(
	items: readonly T[],
	next: (item: T) => string | undefined,
	path: JsonPath,
	key: string,
	problems: Problems,
): void {
	const byId = new Map(items.map((entry) => [entry.id, entry]));
	/** Links above each entry that is settled. */
	const above = new Map<string, number>();
	items.forEach((start, i) => {
		const way: string[] = [];
		const onWay = new Set<string>();
		let current: T | undefined = start;
		while (current && !above.has(current.id) && !onWay.has(current.id)) {
			way.push(current.id);
			onWay.add(current.id);
			const after: string | undefined = next(current);
			current = after === undefined ? undefined : byId.get(after);
		}
		if (current && onWay.has(current.id)) {
			const loop = [...way.slice(way.indexOf(current.id)), current.id];
			problems.add([...path, i, key], `goes round in a circle: ${line(loop)}`);
		}
		let links = current ? (above.get(current.id) ?? 0) : -1;
		let long = links > MAX_CHAIN;
		for (const id of way.reverse()) {
			links++;
			above.set(id, links);
			if (links <= MAX_CHAIN || long) continue;
			// Said once a chain, at the entry with which it becomes too long.
			long = true;
			const at = items.findIndex((entry) => entry.id === id);
			problems.add([...path, at, key], `is the link ${links} of a chain; at most ${MAX_CHAIN} are allowed`);
		}
	});
}

/**
 * Parent cycles and chains that are too long at one moment only: each goes through an object that the moment itself hangs elsewhere, so
 * that only those are followed upward. The moments are walked as the tree they make by `on`, laying over on the way in and taking back on
 * the way out, so that each overlay is looked at once.
 */
export function checkParentsAtMoments(project: Project, problems: Problems): void {
	const moments = project.moments ?? [];
	const parent = new Map<string, string | null | undefined>(project.scene.objects.map((o) => [o.id, o.parent]));
	const on = new Map<string | undefined, number[]>();
	moments.forEach((moment, i) => {
		const list = on.get(moment.on);
		if (list) list.push(i);
		else on.set(moment.on, [i]);
	});
	interface Visit {
		at: number;
		back: [string, string | null | undefined][] | null;
	}
	const stack: Visit[] = (on.get(undefined) ?? []).map((at) => ({ at, back: null }));
	while (stack.length > 0) {
		const visit = stack[stack.length - 1] as Visit;
		if (visit.back) {
			for (const [id, before] of visit.back) parent.set(id, before);
			stack.pop();
			continue;
		}
		const moment = moments[visit.at] as Moment;
		visit.back = [];
		for (const [id, overlay] of Object.entries(moment.objects ?? {})) {
			if (overlay.parent === undefined) continue;
			visit.back.push([id, parent.get(id)]);
			parent.set(id, overlay.parent);
		}
		followUp(
			visit.back.map(([id]) => id),
			parent,
			['moments', visit.at, 'objects'],
			problems,
		);
		for (const at of on.get(moment.id) ?? []) stack.push({ at, back: null });
	}
}

/** Says the first cycle or overlong chain among the parents of some objects. */
function followUp(
	ids: readonly string[],
	parent: ReadonlyMap<string, string | null | undefined>,
	path: JsonPath,
	problems: Problems,
): void {
	const above = new Map<string, number>();
	for (const start of ids) {
		const way: string[] = [];
		const onWay = new Set<string>();
		let at: string | null | undefined = start;
		while (at !== undefined && at !== null && !above.has(at) && !onWay.has(at)) {
			way.push(at);
			onWay.add(at);
			at = parent.get(at);
		}
		if (at !== undefined && at !== null && onWay.has(at)) {
			problems.add(
				path,
				`at this moment "parent" goes round in a circle: ${line([...way.slice(way.indexOf(at)), at])}`,
			);
			return;
		}
		let links = at === undefined || at === null ? -1 : (above.get(at) ?? 0);
		for (const id of way.reverse()) above.set(id, ++links);
		if (links > MAX_CHAIN) {
			problems.add(
				[...path, start, 'parent'],
				`at this moment hangs on a chain of ${links} parents; at most ${MAX_CHAIN} are allowed`,
			);
			return;
		}
	}
}

/** All anchors of a query that hang on another query's hit. */
export function hitsNeeded(query: Project['queries'][number]): string[] {
	const anchors: (Anchor | undefined)[] = [query.range?.from, query.sight?.from, query.view?.about?.toward];
	if (query.kind === 'ray' || query.kind === 'sweep')
		anchors.push(query.from, query.to, query.aim?.toward, query.arc?.at);
	if (query.kind === 'overlap') anchors.push(query.at);
	return anchors.flatMap((a) => (a?.hitOf === undefined ? [] : [a.hitOf]));
}

function hitOfCycles(project: Project, problems: Problems): void {
	const needs = new Map(project.queries.map((query) => [query.id, hitsNeeded(query)]));
	/** Links of the longest chain that begins at a query. */
	const length = new Map<string, number>();
	const reported = new Set<string>();
	let long = false;
	project.queries.forEach((query, i) => {
		const stack: { id: string; next: number; longest: number }[] = [{ id: query.id, next: 0, longest: 0 }];
		const way = new Set<string>([query.id]);
		while (stack.length > 0) {
			const top = stack[stack.length - 1];
			if (!top) break;
			const after = length.has(top.id) ? undefined : needs.get(top.id)?.[top.next++];
			if (after === undefined) {
				const links = length.get(top.id) ?? top.longest;
				length.set(top.id, links);
				way.delete(top.id);
				stack.pop();
				const under = stack.at(-1);
				if (under) under.longest = Math.max(under.longest, links + 1);
				if (links > MAX_CHAIN && !long) {
					long = true;
					const at = project.queries.findIndex((q) => q.id === top.id);
					problems.add(
						['queries', at],
						`hangs on a chain of ${links} hits ("hitOf"); at most ${MAX_CHAIN} are allowed`,
					);
				}
			} else if (way.has(after)) {
				const ids = stack.map((s) => s.id);
				const loop = [...ids.slice(ids.indexOf(after)), after];
				const key = [...loop].sort().join(' ');
				if (!reported.has(key)) problems.add(['queries', i], `"hitOf" goes round in a circle: ${line(loop)}`);
				reported.add(key);
			} else if (length.has(after)) top.longest = Math.max(top.longest, (length.get(after) ?? 0) + 1);
			else {
				way.add(after);
				stack.push({ id: after, next: 0, longest: 0 });
			}
		}
	});
}

function standIns(project: Project, problems: Problems): void {
	const { objects } = project.scene;
	const standing = new Set(objects.filter((o) => o.standsFor !== undefined).map((o) => o.id));
	objects.forEach((object, i) => {
		if (object.standsFor === undefined) return;
		const path: JsonPath = ['scene', 'objects', i, 'standsFor'];
		if (object.standsFor === object.id) problems.add(path, 'an object cannot stand for itself');
		else if (standing.has(object.standsFor))
			problems.add(path, `"${object.standsFor}" itself stands for another object; name that one`);
	});
}
