/** What depends on more than one field: the kind of scene, sizes that must fit, and which parts go together in a query. */

import { buildPolygon, hasVolume } from '../geometry/hull';
import { MAX_STEPS } from './bounds';
import { lastStep, TIME_EPSILON } from './defaults';
import { MAX_ANSWERS, mapGrid } from './map-grid';
import { applyMoment } from './moment';
import type { JsonPath, Problems } from './problems';
import { checkParentsAtMoments } from './references';
import type { Project, Query, Shape, VolumeShape } from './schema';

type Triple = readonly [number, number, number];

const FLAT_KINDS = ['rect', 'circle', 'capsule', 'polygon'];
const SPACE_KINDS = ['box', 'sphere', 'capsule', 'cylinder', 'hull', 'mesh'];

/** Adds one problem per broken rule. Call after `checkReferences` found nothing. */
export function checkRules(project: Project, problems: Problems): void {
	const say = (path: JsonPath, message: string) => problems.add(path, message);
	const flat = project.scene.kind === 'flat';
	const turn = (rotation: Triple | undefined, path: JsonPath) => {
		if (flat && rotation && (rotation[0] !== 0 || rotation[1] !== 0))
			say(path, 'in a flat scene only roll, the third number, may be other than 0');
	};
	const grow = (scale: Triple | undefined, path: JsonPath) => {
		if (flat && scale && scale[2] !== 1) say([...path, 2], `in a flat scene the third scale is 1, got ${scale[2]}`);
	};
	const shape = (value: Shape | VolumeShape, path: JsonPath) => {
		const kinds = flat ? FLAT_KINDS : SPACE_KINDS;
		if (!kinds.includes(value.kind)) {
			say(
				[...path, 'kind'],
				`a ${value.kind} does not belong in a ${flat ? 'flat' : 'space'} scene; its shapes are ${kinds.join(', ')}`,
			);
			return;
		}
		if (value.kind === 'capsule' && value.height < 2 * value.radius)
			say(
				[...path, 'height'],
				`a capsule is at least as high as it is wide: 2 × radius is ${2 * value.radius}, got ${value.height}`,
			);
		if (value.kind === 'hull' && !hasVolume(value.points.flat()))
			say([...path, 'points'], 'a hull needs at least four points that do not all lie in one plane');
		if (value.kind === 'polygon' && !buildPolygon(value.points))
			say([...path, 'points'], 'a polygon needs at least three points that do not all lie on one line');
		if (value.kind === 'mesh') {
			const corners = value.vertices.length / 3;
			const bad = value.triangles.findIndex((i) => i >= corners);
			if (bad >= 0)
				say(
					[...path, 'triangles', bad],
					`no corner ${value.triangles[bad]}; the mesh has ${corners} (0 to ${corners - 1})`,
				);
		}
	};

	project.scene.objects.forEach((object, i) => {
		const path: JsonPath = ['scene', 'objects', i];
		turn(object.rotation, [...path, 'rotation']);
		grow(object.scale, [...path, 'scale']);
		(object.shapes ?? []).forEach((s, j) => {
			shape(s, [...path, 'shapes', j]);
			turn(s.rotation, [...path, 'shapes', j, 'rotation']);
			if (flat && s.at && s.at[2] !== 0)
				say(
					[...path, 'shapes', j, 'at', 2],
					`in a flat scene a shape's third place is 0, got ${s.at[2]}; depth is the object's`,
				);
		});
	});
	project.scene.cameras.forEach((camera, i) => {
		const path: JsonPath = ['scene', 'cameras', i];
		if (!flat) return;
		if (camera.projection !== 'orthographic') say([...path, 'projection'], 'in a flat scene cameras are orthographic');
		if (camera.rotation?.some((v) => v !== 0))
			say(
				[...path, 'rotation'],
				'in a flat scene a camera has no rotation of its own; hang it on an object that is turned',
			);
	});
	project.queries.forEach((query, i) => {
		const path: JsonPath = ['queries', i];
		checkQuery(query, path, flat, say);
		if (query.kind === 'sweep') {
			shape(query.shape, [...path, 'shape']);
			turn(query.rotation, [...path, 'rotation']);
		}
		if (query.kind === 'overlap') {
			if (!('like' in query.shape)) shape(query.shape, [...path, 'shape']);
			turn(query.rotation, [...path, 'rotation']);
		}
		if (query.kind === 'hitbox')
			query.boxes.forEach((box, j) => {
				shape(box.shape, [...path, 'boxes', j, 'shape']);
				turn(box.rotation, [...path, 'boxes', j, 'rotation']);
				if (box.until !== undefined && box.until < (box.from ?? 0))
					say([...path, 'boxes', j, 'until'], `closes at ${box.until} s, before it opens at ${box.from ?? 0} s`);
			});
	});
	(project.moments ?? []).forEach((moment, i) => {
		const path: JsonPath = ['moments', i];
		for (const [id, overlay] of Object.entries(moment.objects ?? {})) {
			turn(overlay.rotation, [...path, 'objects', id, 'rotation']);
			grow(overlay.scale, [...path, 'objects', id, 'scale']);
		}
		for (const [id, overlay] of Object.entries(moment.cameras ?? {}))
			if (flat && overlay.rotation?.some((v) => v !== 0))
				say([...path, 'cameras', id, 'rotation'], 'in a flat scene a camera has no rotation of its own');
	});
	checkMaps(project, flat, say);
	(project.runs ?? []).forEach((run, i) => {
		const path: JsonPath = ['runs', i];
		const last = lastStep(run);
		if (!(last <= MAX_STEPS))
			say([...path, 'step'], `makes ${last} steps of ${run.duration} s; at most ${MAX_STEPS} are allowed`);
		(run.tracks ?? []).forEach((track, j) => {
			track.keys.forEach((key, k) => {
				const at: JsonPath = [...path, 'tracks', j, 'keys', k];
				if (track.camera !== undefined) {
					if (flat && key.rotation?.some((v) => v !== 0))
						say([...at, 'rotation'], 'in a flat scene a camera has no rotation of its own');
					return;
				}
				turn(key.rotation, [...at, 'rotation']);
				grow(key.scale, [...at, 'scale']);
			});
		});
	});
	(project.effects ?? []).forEach((effect, i) => {
		effect.do.forEach((line, j) => {
			turn(line.set?.rotation, ['effects', i, 'do', j, 'set', 'rotation']);
			grow(line.set?.scale, ['effects', i, 'do', j, 'set', 'scale']);
		});
	});
	checkParentsAtMoments(project, problems);
	checkParentsInRuns(project, problems);
}

/** Parents that the tracks of a run would at some time close to a circle, laid over its moment. */
function checkParentsInRuns(project: Project, problems: Problems): void {
	(project.runs ?? []).forEach((run, i) => {
		const tracks = (run.tracks ?? []).flatMap((track, j) =>
			track.object !== undefined && track.keys.some((key) => key.parent !== undefined) ? [{ track, j }] : [],
		);
		if (tracks.length === 0) return;
		let laid: ReturnType<typeof applyMoment>;
		try {
			laid = applyMoment(project, run.moment ?? null);
		} catch {
			// The moment itself is wrong, and said to be.
			return;
		}
		const parent = new Map<string, string | undefined>(laid.objects.map((o) => [o.id, o.parent]));
		const changes = tracks
			.flatMap(({ track, j }) =>
				track.keys.flatMap((key, k) =>
					key.parent === undefined ? [] : [{ t: key.t, object: track.object as string, parent: key.parent, j, k }],
				),
			)
			.sort((a, b) => a.t - b.t);
		for (let at = 0; at < changes.length; ) {
			// Keys of one time count together.
			let end = at;
			for (
				;
				end < changes.length && (changes[end] as { t: number }).t <= (changes[at] as { t: number }).t + TIME_EPSILON;
				end++
			) {
				const { object, parent: to } = changes[end] as (typeof changes)[number];
				parent.set(object, to ?? undefined);
			}
			for (; at < end; at++) {
				const { t, object, j, k } = changes[at] as (typeof changes)[number];
				const seen = new Set<string>();
				let up: string | undefined = object;
				while (up !== undefined && !seen.has(up)) {
					seen.add(up);
					up = parent.get(up);
				}
				if (up !== object) continue;
				problems.add(
					['runs', i, 'tracks', j, 'keys', k, 'parent'],
					`at ${t} s "${object}" would hang on itself: the parents go round in a circle`,
				);
				return;
			}
		}
	});
}

function checkQuery(query: Query, path: JsonPath, flat: boolean, say: (path: JsonPath, message: string) => void): void {
	const { kind } = query;
	const alongPath = kind === 'ray' || kind === 'pick' || kind === 'sweep';
	const by = query.choose?.by ?? [];
	if (kind === 'ray' || kind === 'sweep') {
		const { arc } = query;
		if (arc) {
			for (const other of ['length', 'to'] as const)
				if (query[other] !== undefined)
					say([...path, other], `an arc has no "${other}": it flies as long as its time says`);
			if ((query.aim === undefined) === (arc.at === undefined))
				say([...path, 'arc'], `an arc has either "aim" or "at"${query.aim ? ', not both' : '; this one has neither'}`);
			if (kind === 'ray' && query.assist) say([...path, 'assist'], 'aim assist goes along a straight line, not an arc');
		} else if ((query.aim === undefined) === (query.to === undefined))
			say(path, `a ${kind} has either "aim" or "to"${query.aim ? ', not both' : '; this one has neither'}`);
		if (!arc && query.to !== undefined && query.length !== undefined)
			say([...path, 'length'], '"length" goes with "aim"; "to" ends the path by itself');
	}
	if (kind === 'ray' && query.assist?.by === 'pixels')
		say([...path, 'assist', 'by'], 'pixels need a picture: only a pick has one; use "angle" or "distance"');
	if (alongPath && query.sight?.from)
		say([...path, 'sight', 'from'], `the sight of a ${kind} runs along its path; "from" is for overlap and hitbox`);
	if (alongPath && query.sight?.to)
		say([...path, 'sight', 'to'], `the sight of a ${kind} runs along its path; "to" is for overlap and hitbox`);
	(query.selects?.when ?? []).forEach((condition, j) => {
		if (condition.of === 'asker' && query.asker === undefined)
			say([...path, 'selects', 'when', j, 'of'], 'a condition on the asker needs an "asker"');
	});
	(query.outcomes ?? []).forEach((outcome, j) => {
		(outcome.when ?? []).forEach((condition, k) => {
			if (condition.of === 'asker' && query.asker === undefined)
				say([...path, 'outcomes', j, 'when', k, 'of'], 'a condition on the asker needs an "asker"');
		});
	});
	by.forEach((rule, j) => {
		if (rule.rule === 'seen' && query.sight?.to !== 'marks')
			say([...path, 'choose', 'by', j, 'rule'], 'the rule "seen" counts marks: it needs "sight" with "to": "marks"');
		if (rule.rule === 'cursor' && kind !== 'pick')
			say([...path, 'choose', 'by', j, 'rule'], 'the rule "cursor" is for picks');
	});
	const aims = by.findIndex((r) => r.rule === 'aim');
	if (!alongPath && query.asker === undefined && !query.view?.about) {
		if (query.view)
			say(
				[...path, 'view'],
				`the view of ${kind === 'overlap' ? 'an overlap' : 'a hitbox'} needs an "about" direction or an "asker" whose forward it is`,
			);
		else if (aims >= 0)
			say(
				[...path, 'choose', 'by', aims, 'rule'],
				'the rule "aim" needs an "asker", or a view with an "about" direction',
			);
	}
	if (!flat) return;
	if (query.range?.flat) say([...path, 'range', 'flat'], 'a flat scene has no height to leave out');
	if (query.view?.flat) say([...path, 'view', 'flat'], 'a flat scene has no height to leave out');
	if (kind === 'pick') {
		if (query.view) say([...path, 'view'], 'a flat pick looks straight down; it has no view cone');
		if (aims >= 0)
			say(
				[...path, 'choose', 'by', aims, 'rule'],
				'a flat pick looks straight down; the rule "aim" does not apply, "cursor" may be meant',
			);
		if (query.assist?.by === 'angle')
			say([...path, 'assist', 'by'], 'a flat pick looks straight down; use "pixels" or "distance"');
	}
}

/** A map asks what its query can be asked, and no more than so many answers. */
function checkMaps(project: Project, flat: boolean, say: (path: JsonPath, message: string) => void): void {
	const queries = new Map(project.queries.map((q) => [q.id, q]));
	(project.maps ?? []).forEach((map, i) => {
		const path: JsonPath = ['maps', i];
		const query = queries.get(map.query);
		if (!query) return;
		if (map.kind === 'cursor' && query.kind !== 'pick')
			say([...path, 'query'], `a map of cursor positions asks a pick; "${query.id}" is a ${query.kind}`);
		if (map.kind === 'floor' && query.asker === undefined)
			say([...path, 'query'], `a floor map moves the asker; "${query.id}" has none`);
		if (map.kind === 'floor' && flat && map.y !== undefined)
			say([...path, 'y'], 'belongs to scenes in space: in a flat one the asker keeps its depth');
		if (map.kind === 'aim' && flat) say([...path, 'kind'], 'a map of directions belongs to scenes in space');
		if (map.kind === 'aim' && !((query.kind === 'ray' || query.kind === 'sweep') && query.aim?.along !== undefined))
			say(
				[...path, 'query'],
				`a map of directions asks a ray or sweep that aims along a direction; "${query.id}" does not`,
			);
		const grid = mapGrid(project, map);
		const answers = grid ? grid.columns * grid.rows * grid.headings : 0;
		if (answers > MAX_ANSWERS)
			say(
				path,
				`has ${answers} answers; at most ${MAX_ANSWERS.toLocaleString('en')} are allowed: make its steps wider`,
			);
	});
}
