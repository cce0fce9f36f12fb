/** Things ready to be placed: those of a first scene, and one's own. Recipes on a draft of the project; no interface here. */
import { type Project, rounded, roundedTriple, type SceneObject, type Vec3 } from '@frelk/core';
import { rotationOf, turned } from '@frelk/core/geometry';
import { freshRoom, isFloor } from './fresh-query';
import { addObject, copyObjects, freshId, pasteObjects, putObject } from './objects';

/** Where something is placed, as a stroke says it. */
export interface Placed {
	at: Vec3;
	/** Degrees about the vertical. */
	yaw: number;
	size: Vec3;
	/** The two places of the stroke; the same for one press. */
	from: Vec3;
	to: Vec3;
}

interface ReadyMade {
	id: string;
	label: string;
	about: string;
	/** Size for one press, metres. */
	usual: Vec3;
	/** It hangs on walls without being told to. */
	hangs?: true;
	/**
	 * @param of what is in hand before
	 * @returns the ids of what is taken in hand
	 */
	make: (draft: Project, placed: Placed, of?: string | null) => string[];
}

const PEOPLE = { id: 'people', name: 'People' };
const WALLS = { id: 'walls', name: 'Walls' };
const GROUND = { id: 'ground', name: 'Ground' };
const THINGS = { id: 'things', name: 'Things' };
const GHOSTS = { id: 'ghosts', name: 'Ghosts' };

/** A place of a thing in its own axes, in the world. */
function beside({ at, yaw }: Pick<Placed, 'at' | 'yaw'>, x: number, y: number, z: number): Vec3 {
	const [a, b, c] = turned(rotationOf([yaw, 0, 0]), x, y, z);
	return roundedTriple([at[0] + a, at[1] + b, at[2] + c], 4);
}

const turn = (yaw: number): { rotation?: Vec3 } => (yaw === 0 ? {} : { rotation: [yaw, 0, 0] });

function person(draft: Project, at: Vec3, yaw: number, name: string): string {
	const id = addObject(draft, 'capsule', at, [0.6, 1.8, 0.6], { yaw, name, layer: PEOPLE });
	const made = draft.scene.objects.find((o) => o.id === id);
	if (made) made.focus = [0, 1.6, 0];
	return id;
}

/** A person with an eye: a camera at the height of the eyes, that goes where the person goes. */
function withEye(draft: Project, at: Vec3, yaw: number): string {
	const { cameras } = draft.scene;
	const id = person(draft, at, yaw, 'Person');
	const name = draft.scene.objects.find((o) => o.id === id)?.name ?? 'Person';
	cameras.push({
		id: freshId(
			cameras.map((c) => c.id),
			`${id}-eye`,
		),
		name: `${name}’s eye`,
		object: id,
		position: [0, 1.6, 0],
		projection: 'perspective',
		fov: 60,
	});
	return id;
}

export const READY_MADES: readonly ReadyMade[] = [
	{
		id: 'floor',
		label: 'floor',
		about: 'drawn at its size; its top is where one stands',
		usual: [12, 0.2, 12],
		make: (draft, { at, size }) => [
			addObject(draft, 'box', [at[0], rounded(at[1] - 0.2), at[2]], [size[0], 0.2, size[2]], {
				name: 'Floor',
				layer: GROUND,
			}),
		],
	},
	{
		id: 'wall',
		label: 'wall',
		about: 'drawn from end to end, 2.6 m high',
		usual: [4, 2.6, 0.2],
		make: (draft, { at, from, to }) => {
			const [dx, dz] = [to[0] - from[0], to[2] - from[2]];
			const length = Math.hypot(dx, dz);
			const drawn = length > 0.2;
			// Ends on the grid, turned by whole steps.
			const yaw = drawn ? Math.round((Math.atan2(-dz, dx) * 180) / Math.PI / 5) * 5 : 0;
			const long = drawn ? Math.round(length / 0.05) * 0.05 : 4;
			const middle: Vec3 = drawn ? [rounded((from[0] + to[0]) / 2, 3), at[1], rounded((from[2] + to[2]) / 2, 3)] : at;
			return [addObject(draft, 'box', middle, [rounded(long), 2.6, 0.2], { yaw, name: 'Wall', layer: WALLS })];
		},
	},
	{
		id: 'person',
		label: 'person with an eye',
		about: '1.8 m, a camera at 1.6 m',
		usual: [0.6, 1.8, 0.6],
		make: (draft, { at, yaw }) => [withEye(draft, at, yaw)],
	},
	{
		id: 'counter',
		label: 'counter, someone behind',
		about: 'the counter answers for the clerk',
		usual: [1.8, 1, 0.6],
		make: (draft, { at, yaw, size }) => {
			const counter = addObject(draft, 'box', at, size, { yaw, name: 'Counter', layer: THINGS });
			const clerk = person(draft, beside({ at, yaw }, 0, 0, -(size[2] / 2 + 0.6)), yaw + 180, 'Clerk');
			for (const o of draft.scene.objects) {
				if (o.id === counter) o.standsFor = clerk;
				if (o.id === clerk) Object.assign(o, { prompt: 'Talk to the clerk', action: 'talk' });
			}
			return [counter];
		},
	},
	{
		id: 'door',
		label: 'door',
		about: 'with a prompt and a state',
		usual: [0.9, 2.1, 0.08],
		make: (draft, { at, yaw, size }) => {
			const id = addObject(draft, 'box', at, size, { yaw, name: 'Door', layer: THINGS });
			const door = draft.scene.objects.find((o) => o.id === id);
			if (door) Object.assign(door, { prompt: 'Open the door', action: 'open', states: { open: false } });
			return [id];
		},
	},
	{
		id: 'shelf',
		label: 'shelf with five things',
		about: 'a bench at table height; the things hang on it',
		usual: [2, 0.9, 0.5],
		make: (draft, { at, yaw, size }) => {
			const id = addObject(draft, 'box', at, size, { yaw, name: 'Shelf', layer: THINGS });
			const step = size[0] / 5;
			for (let i = 0; i < 5; i++)
				putObject(draft, {
					name: `Thing ${i + 1}`,
					parent: id,
					position: roundedTriple([(i - 2) * step, size[1], 0], 4),
					focus: [0, 0.1, 0],
					prompt: 'Take it',
					action: 'take',
					shapes: [{ id: 'body', kind: 'box', size: [0.2, 0.2, 0.2], at: [0, 0.1, 0] }],
				});
			return [id];
		},
	},
	{
		id: 'crates',
		label: 'row of crates',
		about: 'five of them, side by side',
		usual: [3.4, 0.6, 0.6],
		make: (draft, { at, yaw }) =>
			[-2, -1, 0, 1, 2].map((i) => {
				const id = addObject(draft, 'box', beside({ at, yaw }, i * 0.7, 0, 0), [0.6, 0.6, 0.6], {
					yaw,
					name: 'Crate',
					layer: THINGS,
				});
				const crate = draft.scene.objects.find((o) => o.id === id);
				if (crate) Object.assign(crate, { prompt: 'Lift the crate', action: 'lift' });
				return id;
			}),
	},
	{
		id: 'target',
		label: 'target on a wall',
		about: 'hangs on what is pressed',
		usual: [0.6, 0.6, 0.06],
		hangs: true,
		make: (draft, { at, yaw, size }) => [
			putObject(draft, {
				name: 'Target',
				position: roundedTriple(at, 4),
				...turn(yaw),
				layer: THINGS,
				focus: [0, rounded(size[1] / 2), 0],
				shapes: [
					{
						id: 'disc',
						kind: 'cylinder',
						radius: rounded(Math.min(size[0], size[1]) / 2),
						height: size[2],
						at: [0, rounded(size[1] / 2), 0],
						rotation: [0, 90, 0],
					},
				],
			}),
		],
	},
	{
		id: 'ghost',
		label: 'ghost',
		about: 'of what is in hand, or 1 m: asks whether it may stand there',
		usual: [1, 1, 1],
		make: (draft, { at, yaw, size }, of) => {
			const model = draft.scene.objects.find((o) => o.id === of);
			const shapes = isFloor(model) ? undefined : model?.shapes;
			const id = putObject(draft, {
				name: shapes ? `Ghost of ${model?.name ?? model?.id}` : 'Ghost',
				position: roundedTriple(at, 4),
				...turn(yaw),
				...(shapes && model?.scale ? { scale: model.scale } : {}),
				layer: GHOSTS,
				// It stands in nobody's way.
				shapes: (
					shapes ?? [{ id: 'body', kind: 'box', size: roundedTriple(size, 4), at: [0, rounded(size[1] / 2, 4), 0] }]
				).map((shape) => ({ ...shape, role: 'sensor' as const })),
			});
			draft.queries.push(freshRoom(draft, id, at));
			return [id];
		},
	},
];

/** A first scene: a floor, a person with an eye, and layers to tell them by. */
export function beginScene(draft: Project): void {
	const { scene } = draft;
	scene.layers = [GROUND, THINGS, PEOPLE].map((l) => ({ ...l }));
	scene.cameras = [];
	const none: Placed = { at: [0, 0, 0], yaw: 0, size: [12, 0.2, 12], from: [0, 0, 0], to: [0, 0, 0] };
	READY_MADES.find((t) => t.id === 'floor')?.make(draft, none);
	withEye(draft, [0, 0, 3], 0);
}

/** An object kept with what hangs on it, to be placed again. */
interface OwnReadyMade {
	id: string;
	name: string;
	clip: ReturnType<typeof copyObjects>;
}

type Extras = Record<string, unknown> | undefined;

export function ownReadyMades(project: Pick<Project, 'extras'>): OwnReadyMade[] {
	const list = (project.extras as Extras)?.things;
	return Array.isArray(list)
		? (list as OwnReadyMade[]).filter((t) => typeof t?.id === 'string' && Array.isArray(t.clip?.objects))
		: [];
}

const kindOf = (object: SceneObject | undefined): { thing?: string; apart?: boolean } =>
	(object?.extras as { thing?: string; apart?: boolean } | undefined) ?? {};

/** Keeps an object, with what hangs on it, as a thing of one's own. @returns its id */
export function keepReadyMade(draft: Project, id: string): string | null {
	const object = draft.scene.objects.find((o) => o.id === id);
	if (!object) return null;
	const list = ownReadyMades(draft).map((t) => ({ ...t }));
	const name = object.name ?? object.id;
	const thing = freshId(
		list.map((t) => t.id),
		name,
	);
	object.extras = { ...(object.extras as Extras), thing };
	const clip = JSON.parse(JSON.stringify(copyObjects(draft, [id]))) as OwnReadyMade['clip'];
	draft.extras = { ...(draft.extras as Extras), things: [...list, { id: thing, name, clip }] };
	return thing;
}

export function forgetReadyMade(draft: Project, id: string): void {
	draft.extras = { ...(draft.extras as Extras), things: ownReadyMades(draft).filter((t) => t.id !== id) };
}

/** Places a thing of one's own. @returns the ids of what is taken in hand */
export function placeOwn(draft: Project, id: string, { at }: Pick<Placed, 'at'>): string[] {
	const own = ownReadyMades(draft).find((t) => t.id === id);
	const root = own?.clip.objects.find((o) => o.id === own.clip.roots[0]);
	if (!own || !root) return [];
	const [x, y, z] = root.parent === undefined ? (root.position ?? [0, 0, 0]) : [0, 0, 0];
	return pasteObjects(draft, own.clip, [at[0] - x, at[1] - y, at[2] - z]);
}

/** The other objects of the same thing that follow what is changed of one. */
export function followersOf(project: Project, id: string): SceneObject[] {
	const object = project.scene.objects.find((o) => o.id === id);
	const { thing, apart } = kindOf(object);
	if (thing === undefined || apart) return [];
	return project.scene.objects.filter((o) => o.id !== id && kindOf(o).thing === thing && !kindOf(o).apart);
}

/** What followers take over: all that says what a thing is, and nothing of where it is. */
const FOLLOWED = ['layer', 'tags', 'prompt', 'action', 'shapes', 'focus', 'approach', 'priority'] as const;

/** Brings the others of a thing to what one of them is now, and the thing itself. */
export function bringAlong(draft: Project, id: string): void {
	const object = draft.scene.objects.find((o) => o.id === id);
	const { thing, apart } = kindOf(object);
	if (!object || thing === undefined || apart) return;
	const list = ownReadyMades(draft);
	const kept = list.flatMap((t) => (t.id === thing ? t.clip.objects.filter((o) => o.id === t.clip.roots[0]) : []));
	for (const other of [...followersOf(draft, id), ...kept])
		for (const field of FOLLOWED) {
			const value = object[field];
			if (value === undefined) delete other[field];
			else Object.assign(other, { [field]: JSON.parse(JSON.stringify(value)) });
		}
}
