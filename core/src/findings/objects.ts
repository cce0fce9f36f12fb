/** Rules about objects and their shapes: sizes, places, foci, and what a left-over does. */

import { placed } from '../geometry/matrix';
import { isOn } from '../project/check-kinds';
import { tripleOf } from '../project/rounding';
import type { Shape } from '../project/schema';
import { gapBetween, nearestOn } from '../space/cast';
import { leftOverOf } from '../world/left-over';
import { maskOf, type WorldObject, type WorldShape } from '../world/world';
import type { Context } from './context';
import type { FindingRule, Told } from './finding';

const TINY = 0.001;
const HUGE = 10_000;
const FAR = 20_000;
const OUT_OF_SCALE = 100;
/** A focus is buried, or away, by more than this, metres. */
const AWAY = 0.25;

const at = (_: Context, object: WorldObject): (string | number)[] => ['scene', 'objects', object.index];

const largest = ({ body }: WorldShape): number => {
	const r = body.boundingRadius;
	return 2 * r;
};

const smallest = (shape: Shape, scale: readonly number[]): number => {
	const s = Math.min(...scale);
	switch (shape.kind) {
		case 'box':
			return Math.min(...shape.size.map((v, k) => v * scale[k]));
		case 'rect':
			return Math.min(shape.size[0] * scale[0], shape.size[1] * scale[1]);
		case 'sphere':
		case 'circle':
			return 2 * shape.radius * s;
		case 'capsule':
		case 'cylinder':
			return Math.min(2 * shape.radius, shape.height) * s;
		default:
			return Infinity;
	}
};

const uneven = (object: WorldObject, flat: boolean): boolean => {
	const [x, y, z] = object.scale;
	const off = (a: number, b: number) => Math.abs(a - b) > 1e-6 * Math.max(a, b);
	return off(x, y) || (!flat && off(x, z));
};

/** Each object's shapes with the place of the shape in the file. */
const shapesIn = (context: Context) =>
	context.world().shapes.map((shape) => ({
		shape,
		path: [...at(context, shape.object), 'shapes', (shape.object.def.shapes ?? []).indexOf(shape.def)],
		name: `The shape ${shape.def.name ?? shape.id} of ${context.name('object', shape.object.id)}`,
	}));

export const OBJECT_RULES: readonly FindingRule[] = [
	{
		id: 'shape-tiny',
		level: 'warning',
		about: 'A shape is thinner than a millimetre: rays pass it for rounding, sweeps for their step.',
		mend: 'Make it thicker, at least by the game’s own slack.',
		find: (context) =>
			shapesIn(context).flatMap(({ shape, path, name }): Told[] =>
				smallest(shape.def, shape.object.scale) < TINY
					? [{ message: `${name} is thinner than a millimetre`, path }]
					: [],
			),
	},
	{
		id: 'shape-huge',
		level: 'warning',
		about: 'A shape is larger than 10 km: it is in the way of everything, and single floats lose millimetres there.',
		mend: 'Scale it down, or split it into parts of the size of a level.',
		find: (context) =>
			shapesIn(context).flatMap(({ shape, path, name }): Told[] =>
				largest(shape) > HUGE ? [{ message: `${name} is larger than 10 km`, path }] : [],
			),
	},
	{
		id: 'shape-out-of-scale',
		level: 'note',
		about:
			'A shape is a hundred times larger than what is usual in the scene: centimetres may have been taken for metres.',
		mend: 'Multiply its size by 0.01, or read the level again with the right unit.',
		find: (context) => {
			const all = shapesIn(context);
			const sizes = all.map(({ shape }) => largest(shape)).sort((a, b) => a - b);
			const usual = sizes[sizes.length >> 1] ?? 0;
			if (sizes.length < 5 || usual === 0) return [];
			return all.flatMap(({ shape, path, name }): Told[] =>
				largest(shape) > OUT_OF_SCALE * usual
					? [{ message: `${name} is ${Math.round(largest(shape) / usual)} times larger than what is usual here`, path }]
					: [],
			);
		},
	},
	{
		id: 'far-from-origin',
		level: 'warning',
		about:
			'An object lies more than 20 km from the origin, where the single floats of most games are coarser than a millimetre.',
		mend: 'Move the scene to the origin.',
		find: (context) =>
			context.world().objects.flatMap((o): Told[] =>
				Math.hypot(...o.position) > FAR
					? [
							{
								message: `${context.name('object', o.id)} lies ${Math.round(Math.hypot(...o.position) / 1000)} km from the origin`,
								path: [...at(context, o), 'position'],
							},
						]
					: [],
			),
	},
	{
		id: 'round-under-uneven-scale',
		level: 'note',
		about: 'A round shape is scaled unevenly: it stays round, as wide as its largest axis, and is not what is drawn.',
		mend: 'Set the size on the shape and leave the scale even.',
		find: (context) =>
			shapesIn(context).flatMap(({ shape, path, name }): Told[] =>
				['sphere', 'circle', 'capsule', 'cylinder'].includes(shape.def.kind) &&
				uneven(shape.object, context.world().flat)
					? [{ message: `${name} is round and its object is scaled unevenly: the largest axis counts`, path }]
					: [],
			),
	},
	{
		id: 'focus-outside',
		level: 'note',
		about:
			'A focus that was set lies away from all shapes of its object: sight and range are measured to a place where nothing is.',
		mend: 'Move the focus onto the object, or clear it: then it is the middle of its shapes.',
		find: (context) => {
			const out = new Float64Array(8);
			return context.world().objects.flatMap((o): Told[] => {
				if (o.def.focus === undefined || o.shapes.length === 0) return [];
				const [x, y] = o.focus;
				const z = context.world().flat ? 0 : o.focus[2];
				const gap = Math.min(...o.shapes.map((s) => nearestOn(s.body, x, y, z, out)));
				return gap > AWAY
					? [
							{
								message: `The focus of ${context.name('object', o.id)} lies ${Number(gap.toFixed(2))} m away from its shapes`,
								path: [...at(context, o), 'focus'],
							},
						]
					: [];
			});
		},
	},
	{
		id: 'focus-buried',
		level: 'warning',
		about: 'A focus lies inside another object that stops a query: its sight line ends there.',
		mend: 'Move the focus out of what is in its way, or name another layer as what stops the query.',
		find: (context) => {
			const world = context.world();
			const out = new Float64Array(8);
			const told = new Set<string>();
			return context.project.queries.flatMap((query) => {
				const blockers = query.sight?.blockers;
				if (!blockers || (query.kind !== 'overlap' && query.kind !== 'hitbox') || query.sight?.to === 'contact')
					return [];
				const mask = maskOf(world, blockers);
				return context.answer(query.id, null).verdicts.flatMap((v): Told[] => {
					if (v.stage !== 'sight' || v.by === undefined || told.has(v.object)) return [];
					const [object, blocker] = [world.objectById.get(v.object), world.objectById.get(v.by)];
					if (!object || !blocker) return [];
					const [x, y, z] = object.focus;
					const inside = blocker.shapes.some(
						(s) =>
							(s.layer & mask) !== 0 && s.def.kind !== 'mesh' && nearestOn(s.body, x, y, world.flat ? 0 : z, out) === 0,
					);
					if (!inside) return [];
					told.add(v.object);
					const focus = `The focus of ${context.name('object', v.object)} lies inside ${context.name('object', v.by)}`;
					return [
						{
							message: `${focus}, which stops “${query.name ?? query.id}”`,
							path: object.def.focus ? [...at(context, object), 'focus'] : at(context, object),
							related: [at(context, blocker), context.at(query)],
						},
					];
				});
			});
		},
	},
	{
		id: 'mark-buried',
		level: 'warning',
		about: 'A mark lies inside another object that stops a query which looks for marks: it can never be seen.',
		mend: 'Move the mark out of what is in its way, or name another layer as what stops the query.',
		find: (context) => {
			const world = context.world();
			const out = new Float64Array(8);
			const told = new Set<string>();
			return context.project.queries.flatMap((query) => {
				const blockers = query.sight?.to === 'marks' ? query.sight.blockers : undefined;
				if (!blockers) return [];
				const mask = maskOf(world, blockers);
				const walls = world.shapes.filter(
					(s) => (s.layer & mask) !== 0 && !s.sensor && s.object.active && s.def.kind !== 'mesh',
				);
				return world.objects.flatMap((object) =>
					(object.def.marks ?? []).flatMap((mark, k): Told[] => {
						const key = `${object.id} ${mark.id}`;
						const [x, y, z] = placed(object.position, object.rotation, object.scale, mark.at);
						const by = walls.find(
							(s) =>
								s.object.answersFor !== object.answersFor && nearestOn(s.body, x, y, world.flat ? 0 : z, out) === 0,
						)?.object;
						if (!by || told.has(key)) return [];
						told.add(key);
						const where = `inside ${context.name('object', by.id)}, which stops “${query.name ?? query.id}”`;
						return [
							{
								message: `The mark ${mark.id} of ${context.name('object', object.id)} lies ${where}`,
								path: [...at(context, object), 'marks', k],
								related: [at(context, by), context.at(query)],
							},
						];
					}),
				);
			});
		},
	},
	{
		id: 'left-over-shape',
		level: 'warning',
		about:
			'A solid shape is far larger than the others of its object and hides something: a left-over from a template, often.',
		mend: 'Switch the shape off, or delete it.',
		find: (context) => {
			const hides = new Map<string, string>();
			for (const query of context.project.queries)
				for (const v of context.answer(query.id, null).verdicts)
					if (v.stage === 'sight' && v.by !== undefined) hides.set(v.by, v.object);
			return context.world().objects.flatMap((o): Told[] => {
				const hidden = hides.get(o.id);
				const left = hidden === undefined ? null : leftOverOf(context.world(), o);
				if (hidden === undefined || !left) return [];
				const { def } = left.shape;
				const shape = `The shape ${def.name ?? def.id} of ${context.name('object', o.id)}`;
				const times = Math.round(left.times);
				return [
					{
						message: `${shape} is ${times} times as high as its others, and hides ${context.name('object', hidden)}`,
						path: [...at(context, o), 'shapes', (o.def.shapes ?? []).indexOf(def)],
					},
				];
			});
		},
	},
	{
		id: 'approach-walled-off',
		level: 'warning',
		about: 'The side from which an object may be approached is closed: right before it stands something solid.',
		mend: 'Turn the side to where there is room, or move what stands before it.',
		find: (context) => {
			const world = context.world();
			const out = new Float64Array(8);
			// What stops no query is no wall: a floor, a zone.
			const walls = context.project.queries.reduce(
				(mask, q) => mask | (q.sight?.blockers ? maskOf(world, q.sight.blockers) : 0),
				0,
			);
			return world.objects.flatMap((o): Told[] => {
				const { approach } = o.def;
				if (!approach || !o.active) return [];
				const m = o.rotation;
				const [dx, dy, dz] = approach.from;
				const way = [0, 1, 2].map((k) => m[3 * k] * dx + m[3 * k + 1] * dy + m[3 * k + 2] * dz);
				const length = Math.hypot(...way);
				if (length < 1e-9) return [];
				const own = Math.max(0, ...o.shapes.map((s) => s.body.boundingRadius));
				const before = tripleOf((k) => o.focus[k] + ((own + 0.3) * way[k]) / length);
				const wall = world.shapes.find(
					(s) =>
						(s.layer & walls) !== 0 &&
						!s.sensor &&
						s.object.active &&
						s.object !== o &&
						s.object.parent !== o &&
						s.object.def.approach === undefined &&
						nearestOn(s.body, before[0], before[1], world.flat ? 0 : before[2], out) === 0,
				);
				return wall
					? [
							{
								message: `${context.name('object', o.id)} is approached from a side that ${context.name('object', wall.object.id)} closes`,
								path: [...at(context, o), 'approach'],
								related: [at(context, wall.object)],
							},
						]
					: [];
			});
		},
	},
	{
		id: 'same-depth',
		level: 'warning',
		about:
			'In a flat scene two figures that a cursor can pick lie over each other at one depth: which is picked is a tie.',
		mend: 'Put one above the other in the pile.',
		find: (context) => {
			const world = context.world();
			if (!world.flat) return [];
			const picks = context.project.queries.filter((q) => q.kind === 'pick');
			const pickable = new Set(
				picks.flatMap((q) =>
					context
						.answer(q.id, null)
						.verdicts.filter((v) => ['touch', 'range', 'sight', 'choice', 'tied', 'selected'].includes(v.stage))
						.map((v) => v.object),
				),
			);
			const list = world.objects.filter((o) => pickable.has(o.id) && o.active);
			const out: Told[] = [];
			list.forEach((a, i) => {
				for (const b of list.slice(i + 1)) {
					if (Math.abs(a.position[2] - b.position[2]) > world.tieSlack) continue;
					if (!a.shapes.some((s) => b.shapes.some((t) => gapBetween(s.body, t.body) === 0))) continue;
					out.push({
						message: `${context.name('object', a.id)} and ${context.name('object', b.id)} lie over each other at one depth`,
						path: [...at(context, a), 'position'],
						related: [[...at(context, b), 'position']],
					});
				}
			});
			return out;
		},
	},
];

const sameCheck = (a: object, b: object): boolean => {
	const bare = ({ id: _, name: _n, extras: _e, ...rest }: Record<string, unknown>) => JSON.stringify(rest);
	return bare(a as Record<string, unknown>) === bare(b as Record<string, unknown>);
};

export const CHECK_RULES: readonly FindingRule[] = [
	{
		id: 'check-twice',
		level: 'note',
		about: 'A check says the same as another: it can fail only with it.',
		mend: 'Delete one of the two.',
		find: ({ project }) =>
			(project.checks ?? []).flatMap((check, i, all): Told[] => {
				const first = all.slice(0, i).findIndex((other) => sameCheck(other, check));
				return first < 0
					? []
					: [
							{
								message: `The check ${check.name ?? check.id} says the same as ${all[first]?.name ?? all[first]?.id}`,
								path: ['checks', i],
								related: [['checks', first]],
								patch: [{ op: 'remove', path: `/checks/${i}` }],
							},
						];
			}),
	},
	{
		id: 'answer-unchecked',
		level: 'note',
		about: 'No check holds any answer of a query: nobody is told when it changes.',
		mend: 'Keep an answer of the query as a check.',
		find: (context) => {
			const held = new Set((context.project.checks ?? []).filter(isOn).flatMap((c) => ('query' in c ? [c.query] : [])));
			for (const run of context.project.runs ?? []) for (const w of run.watch ?? []) held.add(w.query);
			for (const map of context.project.maps ?? []) held.add(map.query);
			return context.project.queries.flatMap((query): Told[] =>
				held.has(query.id)
					? []
					: [{ message: `No check holds an answer of “${query.name ?? query.id}”`, path: context.at(query) }],
			);
		},
	},
	{
		id: 'check-off',
		level: 'note',
		about: 'A check is switched off: it stays in the file and holds nothing.',
		mend: 'Switch it on, or delete it.',
		find: ({ project }) =>
			(project.checks ?? []).flatMap((check, i): Told[] =>
				isOn(check) ? [] : [{ message: `The check ${check.name ?? check.id} is switched off`, path: ['checks', i] }],
			),
	},
];
