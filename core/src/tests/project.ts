/** Random valid projects: small, crowded scenes in which every kind of query has something to decide. */
import type { Anchor, Direction, Moment, Overlay, Project, Query, SceneObject, Shape } from '../project/schema';
import { Dice, dice, random } from './random';

const LAYERS = ['one', 'two', 'three'];
const TAGS = [{ id: 'thing' }, { id: 'handle', under: 'thing' }, { id: 'crank', under: 'handle' }, { id: 'odd' }];
const SIDES = ['us', 'them', 'others'];

const maybe = <T>(d: Dice, p: number, make: () => T): T | undefined => (d.chance(p) ? make() : undefined);

/** Leaves out what is undefined, so that the project is what a file would hold. */
function tidy<T>(value: T): T {
	return JSON.parse(JSON.stringify(value)) as T;
}

export interface Recipe {
	objects?: number;
	queries?: number;
	flat?: boolean;
	/** Meshes and stand-ins make some questions undecidable by a second method; they can be left out. */
	meshes?: boolean;
	standIns?: boolean;
	moments?: boolean;
	/** Rays and sweeps are thrown; things have marks, which sight counts. */
	thrown?: boolean;
	/** Everything on a coarse grid in quarter turns: faces that touch, equal distances, starts on surfaces. */
	grid?: boolean;
}

/** Dice that fall on few numbers only. */
class GridDice extends Dice {
	override between(low: number, high: number): number {
		const step = high - low >= 180 ? 90 : high - low > 1 ? 0.5 : 0.25;
		const value = Math.round(super.between(low, high) / step) * step;
		return value <= low ? Math.ceil(low / step + 1e-9) * step : value;
	}

	override rotation(): [number, number, number] {
		return [
			90 * this.whole(-2, 2),
			this.chance(0.3) ? 90 * this.whole(-1, 1) : 0,
			this.chance(0.3) ? 90 * this.whole(-2, 2) : 0,
		];
	}

	override direction(): [number, number, number] {
		const v: [number, number, number] = [this.whole(-1, 1), this.whole(-1, 1), this.whole(-1, 1)];
		return v.every((x) => x === 0) ? [0, 0, -1] : v;
	}
}

/** @returns a project that is valid and the same for the same seed */
export function randomProject(seed: number, recipe: Recipe = {}): Project {
	const d = recipe.grid ? new GridDice(random(seed)) : dice(seed);
	const flat = recipe.flat ?? d.chance(0.35);
	const count = recipe.objects ?? d.whole(3, 14);
	const objects: SceneObject[] = [];
	const ids = Array.from({ length: count }, (_, i) => `o${i}`);
	for (let i = 0; i < count; i++) objects.push(randomObject(d, i, ids, objects, flat, recipe));
	const project: Project = {
		format: 'frelk/1',
		id: `random-${seed}`,
		name: `Random ${seed}`,
		scene: {
			kind: flat ? 'flat' : 'space',
			tieSlack: d.of([0.001, 0.001, 0.05]),
			states: { tide: d.chance(0.5), level: d.whole(0, 3) },
			layers: LAYERS.map((id) => ({ id })),
			tags: TAGS,
			sides: SIDES.map((id) => ({ id })),
			stances: [{ from: 'us', to: 'them', stance: 'hostile' }],
			objects,
			cameras: [
				flat
					? {
							id: 'cam',
							object: maybe(d, 0.3, () => d.of(ids)),
							position: [d.between(-1, 1), d.between(-1, 1), d.between(2, 5)],
							projection: 'orthographic',
							height: d.between(3, 8),
							far: 20,
						}
					: d.chance(0.6)
						? {
								id: 'cam',
								object: maybe(d, 0.3, () => d.of(ids)),
								position: [0, 1, d.between(3, 8)],
								rotation: [d.between(-20, 20), d.between(-20, 10), 0],
								projection: 'perspective',
								fov: d.between(40, 90),
								far: 40,
							}
						: {
								id: 'cam',
								position: [0, 1, 8],
								rotation: d.rotation(),
								projection: 'orthographic',
								height: 8,
								far: 40,
							},
			],
		},
		queries: [],
	};
	const total = recipe.queries ?? 6;
	for (let i = 0; i < total; i++) project.queries.push(randomQuery(d, `q${i}`, ids, flat, i));
	if (recipe.moments ?? d.chance(0.5)) project.moments = randomMoments(d, ids, objects, project.queries, flat);
	withAsking(project, dice(7 * seed + 99_991));
	if (recipe.thrown) withThrows(project, recipe.grid ? new GridDice(random(11 * seed + 5)) : dice(11 * seed + 5), ids);
	return tidy(project);
}

/** Arcs in place of straight paths, and marks. By a die of its own. */
function withThrows(project: Project, d: Dice, ids: string[]): void {
	const flat = project.scene.kind === 'flat';
	for (const object of project.scene.objects)
		if (d.chance(0.7))
			object.marks = Array.from({ length: d.whole(1, 4) }, (_, i) => ({
				id: `m${i}`,
				at: flat ? ([d.between(-1, 1), d.between(-1, 1), 0] as const) : point(d, 1),
			}));
	project.queries.forEach((query, i) => {
		if ((query.kind === 'overlap' || query.kind === 'hitbox') && d.chance(0.8)) {
			query.sight = {
				...query.sight,
				blockers: query.sight?.blockers ?? (d.chance(0.8) ? 'all' : []),
				to: 'marks',
				...(d.chance(0.5) ? { least: d.of([1, 2, 3, 'all'] as const) } : {}),
			};
			if (d.chance(0.5))
				query.choose = { ...query.choose, by: [{ rule: 'seen', slack: d.of([0, 0.3]) }, { rule: 'distance' }] };
		}
		if (query.kind !== 'ray' && query.kind !== 'sweep') return;
		delete query.length;
		delete query.to;
		if (query.kind === 'ray') delete query.assist;
		query.arc = {
			speed: d.between(3, 11),
			...(d.chance(0.4) ? { gravity: d.of([0, 1.6, 20]) } : {}),
			time: d.between(0.4, 1.4),
			step: d.of([1 / 15, 0.11, 0.25]),
		};
		if (d.chance(0.5)) {
			delete query.aim;
			query.arc.at = anchor(d, ids, flat, i);
			if (d.chance(0.5)) query.arc.high = true;
		} else query.aim ??= d.chance(0.2) ? { along: [0, d.of([1, -1]), 0] } : direction(d, ids, flat);
	});
}

/** Outcomes that ask states, and prompts that name. By a die of its own: what else is thrown stays what it was. */
function withAsking(project: Project, d: Dice): void {
	for (const object of project.scene.objects) {
		if (object.prompt && d.chance(0.3)) object.prompt = '{name}: use {name}';
		if (d.chance(0.3)) object.name = d.of(['Lamp', 'A {name}', '$& $1']);
	}
	for (const query of project.queries)
		for (const outcome of query.outcomes ?? []) {
			if (!d.chance(0.5)) continue;
			const of = d.of(
				query.asker === undefined ? (['target', 'scene'] as const) : (['target', 'scene', 'asker'] as const),
			);
			const state = of === 'scene' ? d.of(['tide', 'level']) : d.of(['jammed', 'wear']);
			outcome.when = [d.chance(0.5) ? { of, state, is: d.chance(0.5) } : { of, state, above: d.whole(0, 3) }];
			if (d.chance(0.4)) delete outcome.tag;
			if (d.chance(0.3)) outcome.prompt = 'Put down {name}';
		}
}

const round = (d: Dice, v: number): number => (d.chance(0.5) ? Math.round(v * 4) / 4 : v);
const point = (d: Dice, reach: number): [number, number, number] => [
	round(d, d.between(-reach, reach)),
	round(d, d.between(-reach, reach)),
	round(d, d.between(-reach, reach)),
];

function randomObject(
	d: Dice,
	i: number,
	ids: string[],
	before: SceneObject[],
	flat: boolean,
	recipe: Recipe,
): SceneObject {
	const rotation = flat ? ([0, 0, d.chance(0.4) ? 0 : d.between(-180, 180)] as [number, number, number]) : d.rotation();
	const position = point(d, 2.5);
	if (flat) position[2] = d.whole(0, 6) * 0.25;
	const standing = (recipe.standIns ?? true) && i > 0 && d.chance(0.12) ? d.of(before) : undefined;
	const shapes = Array.from({ length: d.of([0, 1, 1, 1, 1, 2]) }, (_, k) =>
		randomShape(d, `s${k}`, flat, recipe.meshes ?? true),
	);
	return {
		id: ids[i] as string,
		parent:
			maybe(d, 0.2, () => d.of(ids.slice(0, Math.max(1, i)))) === ids[i]
				? undefined
				: i > 0
					? maybe(d, 0.2, () => d.of(ids.slice(0, i)))
					: undefined,
		position,
		rotation,
		scale: maybe(d, 0.25, () => [d.between(0.5, 1.6), d.between(0.5, 1.6), flat ? 1 : d.between(0.5, 1.6)]),
		layer: d.of(LAYERS),
		tags: maybe(d, 0.8, () => d.some(['thing', 'handle', 'crank', 'odd'], 0.4)),
		side: maybe(d, 0.7, () => d.of(SIDES)),
		active: maybe(d, 0.1, () => false),
		states: maybe(d, 0.6, () => ({ jammed: d.chance(0.4), wear: d.whole(0, 5) })),
		priority: maybe(d, 0.4, () => d.whole(0, 2)),
		focus: maybe(d, 0.4, () =>
			flat
				? [d.between(-0.3, 0.3), d.between(-0.3, 0.3), 0]
				: [d.between(-0.3, 0.3), d.between(-0.3, 0.3), d.between(-0.3, 0.3)],
		),
		prompt: maybe(d, 0.5, () => `Use ${i}`),
		action: maybe(d, 0.5, () => `use-${i}`),
		approach: maybe(d, 0.2, () => ({ from: flat ? [1, 0, 0] : d.direction(), within: d.between(20, 150) })),
		standsFor: standing && standing.standsFor === undefined ? standing.id : undefined,
		shapes,
	};
}

function randomShape(d: Dice, id: string, flat: boolean, meshes: boolean): Shape {
	const mount = {
		id,
		at: maybe(d, 0.4, (): [number, number, number] => [
			d.between(-0.4, 0.4),
			d.between(-0.4, 0.4),
			flat ? 0 : d.between(-0.4, 0.4),
		]),
		rotation: maybe(d, 0.4, (): [number, number, number] => (flat ? [0, 0, d.between(-180, 180)] : d.rotation())),
		role: maybe(d, 0.3, () => 'sensor' as const),
		layer: maybe(d, 0.25, () => d.of(LAYERS)),
		enabled: maybe(d, 0.06, () => false),
	};
	const size = () => round(d, d.between(0.2, 1.2)) || 0.3;
	const radius = size() / 2;
	if (flat) {
		switch (d.of(['rect', 'circle', 'capsule', 'polygon'])) {
			case 'rect':
				return { ...mount, kind: 'rect', size: [size(), size()] };
			case 'circle':
				return { ...mount, kind: 'circle', radius };
			case 'capsule':
				return { ...mount, kind: 'capsule', radius: radius / 2, height: radius + size() };
			default:
				return {
					...mount,
					kind: 'polygon',
					points: Array.from({ length: d.whole(3, 8) }, (_, k): [number, number] => [
						Math.cos(k * 0.8) * size(),
						Math.sin(k * 0.8) * size(),
					]),
				};
		}
	}
	switch (d.of(['box', 'box', 'sphere', 'capsule', 'cylinder', 'hull', meshes ? 'mesh' : 'box'])) {
		case 'box':
			return { ...mount, kind: 'box', size: [size(), size(), size()] };
		case 'sphere':
			return { ...mount, kind: 'sphere', radius };
		case 'capsule':
			return { ...mount, kind: 'capsule', radius: radius / 2, height: radius + size() };
		case 'cylinder':
			return { ...mount, kind: 'cylinder', radius, height: size() };
		case 'hull':
			return {
				...mount,
				kind: 'hull',
				points: [
					[0, 0, 0],
					[size(), 0, 0],
					[0, size(), 0],
					[0, 0, size()],
					...Array.from({ length: d.whole(0, 8) }, () => point(d, 0.5)),
				],
			};
		default:
			return {
				...mount,
				kind: 'mesh',
				vertices: [-0.5, 0, -0.5, 0.5, 0, -0.5, 0.5, 0.2, 0.5, -0.5, 0, 0.5, 0, size(), 0],
				triangles: [0, 1, 2, 0, 2, 3, 0, 1, 4, 2, 3, 4],
			};
	}
}

function anchor(d: Dice, ids: string[], flat: boolean, earlier: number): Anchor {
	switch (d.of(['point', 'object', 'object', 'focus', 'camera', earlier > 0 ? 'hit' : 'point'])) {
		case 'object':
			return tidy({ object: d.of(ids), offset: maybe(d, 0.5, () => point(d, 1)) });
		case 'focus':
			return { focus: d.of(ids) };
		case 'camera':
			return { camera: 'cam' };
		case 'hit':
			return tidy({ hitOf: `q${d.whole(0, earlier - 1)}`, off: maybe(d, 0.5, () => 0.05) });
		default: {
			const p = point(d, 3);
			if (flat) p[2] = 0;
			return { point: p };
		}
	}
}

function direction(d: Dice, ids: string[], flat: boolean): Direction {
	if (d.chance(0.35)) return { toward: d.chance(0.5) ? { focus: d.of(ids) } : { point: [0, 0, 0] } };
	const along: [number, number, number] = flat ? [d.between(-1, 1), d.between(-1, 1), 0] : d.direction();
	return tidy({ along, of: maybe(d, 0.5, () => d.of([...ids, 'cam'])) });
}

function randomQuery(d: Dice, id: string, ids: string[], flat: boolean, index: number): Query {
	const kind = d.of(['ray', 'pick', 'sweep', 'overlap', 'hitbox'] as const);
	const asker = kind === 'hitbox' || d.chance(0.6) ? d.of(ids) : undefined;
	const volume = kind === 'overlap' || kind === 'hitbox';
	const flatPick = flat && kind === 'pick';
	const conditions = [
		...(d.chance(0.25) ? [{ of: 'target' as const, state: 'jammed', is: d.chance(0.5) }] : []),
		...(d.chance(0.15) ? [{ of: 'target' as const, state: 'wear', above: 0, below: 5 }] : []),
		...(d.chance(0.08) ? [{ of: 'scene' as const, state: 'tide', is: true }] : []),
		...(asker !== undefined && d.chance(0.1) ? [{ of: 'asker' as const, state: 'jammed', is: false }] : []),
	];
	const view = !flatPick && (!volume || asker !== undefined) && d.chance(0.25);
	const common = {
		id,
		asker,
		ignore: maybe(d, 0.15, () => [d.of(ids)]),
		selects: maybe(d, 0.7, () => ({
			layers: maybe(d, 0.5, () => {
				const some = d.some(LAYERS, 0.6);
				return some.length > 0 ? some : ['one'];
			}),
			tags: maybe(d, 0.35, () => ({
				any: maybe(d, 0.5, () => [d.of(['thing', 'handle', 'crank'])]),
				none: maybe(d, 0.3, () => ['odd']),
				all: maybe(d, 0.2, () => ['thing']),
			})),
			stances: maybe(d, 0.15, () => [d.of(['hostile', 'neutral', 'friendly'] as const)]),
			roles: maybe(d, 0.15, () => [d.of(['solid', 'sensor'] as const)]),
			when: conditions.length > 0 ? conditions : undefined,
		})),
		range: maybe(d, 0.35, () => ({
			min: maybe(d, 0.3, () => d.between(0, 1)),
			max: maybe(d, 0.8, () => d.between(1, 6)),
			from: maybe(d, 0.4, () => anchor(d, ids, flat, 0)),
			to: maybe(d, 0.5, () => d.of(['contact', 'focus'] as const)),
			flat: flat ? undefined : maybe(d, 0.3, () => true),
		})),
		view: view
			? {
					within: d.between(20, 120),
					about: maybe(d, 0.4, () => direction(d, ids, flat)),
					flat: flat ? undefined : maybe(d, 0.4, () => true),
				}
			: undefined,
		approach: maybe(d, 0.2, () => 'ignore' as const),
		sight: maybe(d, 0.55, () => ({
			blockers: d.chance(0.3) ? ('all' as const) : d.some(LAYERS, 0.5),
			sensors: maybe(d, 0.3, () => true),
			from: volume ? maybe(d, 0.3, () => anchor(d, ids, flat, 0)) : undefined,
			to: volume ? maybe(d, 0.4, () => 'contact' as const) : undefined,
		})),
		startInside: maybe(d, 0.3, () => 'count' as const),
		choose: maybe(d, 0.5, () => ({
			take: maybe(d, 0.6, () => d.of([1, 2, 3, 'all'] as const)),
			by: maybe(d, 0.6, () => {
				const rules: {
					rule: 'distance' | 'priority' | 'listed' | 'aim' | 'cursor';
					slack?: number;
					to?: 'contact' | 'focus';
				}[] = [{ rule: 'distance' }, { rule: 'priority' }, { rule: 'listed' }];
				if (!flatPick && (!volume || asker !== undefined)) rules.push({ rule: 'aim', slack: 2 });
				if (kind === 'pick') rules.push({ rule: 'cursor' });
				if (d.chance(0.4)) rules.push({ rule: 'distance', to: 'focus', slack: 0.3 });
				return d.some(rules, 0.6).length > 0 ? [d.of(rules), d.of(rules)] : [{ rule: 'distance' as const }];
			}),
		})),
		outcomes: maybe(d, 0.3, () => [
			{ tag: 'handle', action: 'grip' },
			{ tag: 'thing', prompt: null },
		]),
	};
	const path = (): object => {
		const base = { from: anchor(d, ids, flat, index) };
		return d.chance(0.4)
			? { ...base, to: anchor(d, ids, flat, 0) }
			: { ...base, aim: direction(d, ids, flat), length: d.between(1, 12) };
	};
	const shape = (more: boolean): object => {
		const r = d.between(0.1, 0.6);
		if (flat)
			return d.of<object>([
				{ kind: 'circle', radius: r },
				{ kind: 'rect', size: [2 * r, r] },
				{ kind: 'capsule', radius: r / 2, height: 2 * r },
			]);
		const list: object[] = [
			{ kind: 'sphere', radius: r },
			{ kind: 'box', size: [2 * r, r, 1.5 * r] },
			{ kind: 'capsule', radius: r / 2, height: 2 * r },
		];
		if (more)
			list.push(
				{ kind: 'cylinder', radius: r, height: r },
				{
					kind: 'hull',
					points: [
						[0, 0, 0],
						[r, 0, 0],
						[0, r, 0],
						[0, 0, 2 * r],
					],
				},
			);
		return d.of(list);
	};
	const turn = () => maybe(d, 0.5, () => (flat ? [0, 0, d.between(-90, 90)] : d.rotation()));
	let query: object;
	switch (kind) {
		case 'ray':
			query = {
				...common,
				kind,
				...path(),
				assist: maybe(d, 0.3, () =>
					d.of([
						{ by: 'angle', within: d.between(2, 20) },
						{ by: 'distance', within: d.between(0.1, 1) },
					]),
				),
			};
			break;
		case 'pick':
			query = {
				...common,
				kind,
				camera: 'cam',
				viewport: [800, 600],
				cursor: maybe(d, 0.8, () => [d.between(100, 700), d.between(80, 520)]),
				assist: maybe(d, 0.3, () =>
					d.of([
						{ by: 'pixels', within: d.between(10, 120) },
						{ by: 'distance', within: d.between(0.1, 1) },
					]),
				),
			};
			break;
		case 'sweep':
			query = { ...common, kind, ...path(), shape: shape(false), rotation: turn() };
			break;
		case 'overlap':
			query = {
				...common,
				kind,
				at: anchor(d, ids, flat, index),
				shape: d.chance(0.2) ? { like: d.of(ids), grow: maybe(d, 0.7, () => d.between(0, 0.6)) } : shape(true),
				offset: maybe(d, 0.4, () => (flat ? [d.between(-1, 1), d.between(-1, 1), 0] : point(d, 1))),
				rotation: turn(),
				turns: maybe(d, 0.3, () => false),
			};
			break;
		default:
			query = {
				...common,
				kind,
				boxes: Array.from({ length: d.whole(1, 3) }, () => ({
					shape: shape(true),
					at: flat ? [d.between(-1, 1), d.between(-1, 1), 0] : point(d, 1),
					rotation: turn(),
					from: maybe(d, 0.6, () => d.of([0, 0.1, 0.2])),
				})),
			};
	}
	return tidy(query) as Query;
}

/** Two moments, the second on the first. */
function randomMoments(d: Dice, ids: string[], objects: SceneObject[], queries: Query[], flat: boolean): Moment[] {
	const moment = (id: string, on?: string): Moment => ({
		id,
		on,
		objects: Object.fromEntries(
			d.some(ids, on === undefined ? 0.15 : 0.3).map((o) => [o, randomOverlay(d, o, ids, objects, flat)]),
		),
		states: maybe(d, 0.6, () => ({ tide: d.chance(0.5), level: d.whole(0, 3) })),
		cameras: maybe(d, 0.3, () => ({
			cam: { position: flat ? [d.between(-1, 1), 0, d.between(2, 5)] : [d.between(-1, 1), 1, d.between(3, 8)] },
		})),
		queries: Object.fromEntries(
			d.some(queries, 0.2).map((q) => [
				q.id,
				{
					enabled: maybe(d, 0.5, () => d.chance(0.8)),
					cursor: q.kind === 'pick' ? [d.between(100, 700), d.between(80, 520)] : undefined,
				},
			]),
		),
	});
	return tidy([moment('later'), moment('last', 'later')]);
}

function randomOverlay(d: Dice, id: string, ids: string[], objects: SceneObject[], flat: boolean): Overlay {
	const at = ids.indexOf(id);
	const shape = objects[at]?.shapes?.[0];
	return {
		position: maybe(d, 0.4, () => point(d, 2.5)),
		rotation: maybe(d, 0.3, (): [number, number, number] => (flat ? [0, 0, d.between(-180, 180)] : d.rotation())),
		scale: maybe(d, 0.2, (): [number, number, number] => [
			d.between(0.5, 1.6),
			d.between(0.5, 1.6),
			flat ? 1 : d.between(0.5, 1.6),
		]),
		active: maybe(d, 0.4, () => d.chance(0.7)),
		// Only earlier objects, so that no cycle comes about.
		parent: maybe(d, 0.2, () => (at > 0 && d.chance(0.6) ? d.of(ids.slice(0, at)) : null)),
		states: maybe(d, 0.5, () => ({ jammed: d.chance(0.5) })),
		layer: maybe(d, 0.3, () => d.of(LAYERS)),
		tags: maybe(d, 0.3, () => d.some(['thing', 'crank', 'odd'], 0.5)),
		side: maybe(d, 0.3, () => (d.chance(0.3) ? null : d.of(SIDES))),
		priority: maybe(d, 0.3, () => d.whole(0, 2)),
		prompt: maybe(d, 0.2, () => null),
		action: maybe(d, 0.2, () => 'changed'),
		shapes: shape ? maybe(d, 0.4, () => ({ [shape.id]: { enabled: d.chance(0.5) } })) : undefined,
	};
}
