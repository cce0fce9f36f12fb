/** What one does on the bench with what is in hand, with queries and with moments: each act one step of the history. */
import { type Project, rounded, roundedTriple, type ShapeKind, type Vec3, type World } from '@frelk/core';
import { readLocal, writeLocal } from '../../data/local';
import type { BenchStore, Dock } from '../../model/bench-state';
import { nameOf } from '../../model/names';
import { addCamera } from './cameras';
import { topDepth } from './depth';
import { freshQuery, freshRoom, isFloor, likelyAsker } from './fresh-query';
import {
	addObject,
	alignObjects,
	copyObjects,
	distributeObjects,
	duplicateObjects,
	extentOf,
	freshId,
	groupObjects,
	hangUnder,
	isHidden,
	isLocked,
	pasteObjects,
	readClip,
	setFlag,
	shiftObject,
} from './objects';
import { keepReadyMade, ownReadyMades, type Placed, placeOwn, READY_MADES } from './ready-mades';
import { heightBelow } from './standing';
import { usualSize } from './usual-size';

const world = (store: BenchStore): World => store.getState().derived.world;

/** The words for what is in hand. */
export function handWords(project: Project, ids: readonly string[]): string {
	return ids.length === 1 ? nameOf(project, 'object', ids[0] as string) : `${ids.length} objects`;
}

export function editHand(
	store: BenchStore,
	what: string,
	recipe: (draft: Project, ids: readonly string[], world: World) => string[] | undefined,
): void {
	const { selection, project } = store.getState();
	if (selection.length === 0) return;
	let next: string[] | undefined;
	const now = world(store);
	store.getState().edit(`${what} ${handWords(project, selection)}`, (draft) => {
		next = recipe(draft, selection, now);
	});
	if (next && next.length > 0) store.getState().pickAll(next);
}

/**
 * A step that is seen but does not lose the copy: a little beside the original, in a flat scene on top of all, where it ties with nothing.
 * @param depths of what is copied
 */
function beside(project: Project, now: World, depths: readonly number[]): Vec3 {
	if (!now.flat) return [0.5, 0, 0.5];
	return [0.04, -0.04, depths.length === 0 ? 0 : rounded(topDepth(project, now) - Math.min(...depths))];
}

export function duplicateInHand(store: BenchStore): void {
	const { project } = store.getState();
	editHand(store, 'Duplicate', (draft, ids, now) => {
		const depths = ids.map((id) => now.objectById.get(id)?.position[2] ?? 0);
		return duplicateObjects(draft, ids, beside(project, now, depths));
	});
}

export async function copyInHand(store: BenchStore): Promise<void> {
	const { project, selection } = store.getState();
	if (selection.length > 0) await writeClipboard(JSON.stringify(copyObjects(project, selection)));
}

/** Where the last copy lies for the other tabs of this browser: the system's clipboard may only be read where one presses its key. */
const CLIP = 'frelk-clip';

async function writeClipboard(text: string): Promise<void> {
	writeLocal(CLIP, text);
	try {
		await navigator.clipboard.writeText(text);
	} catch {
		// Not allowed here: what is kept above is enough for this browser.
	}
}

/** @param text of the system's clipboard, where the browser handed it over */
export function paste(store: BenchStore, text?: string): void {
	const clip = (text === undefined ? null : readClip(text)) ?? readClip(readLocal(CLIP) ?? '');
	if (!clip) {
		store.getState().refuse('There are no objects on the clipboard. Copy some here or in another project first.');
		return;
	}
	const { project } = store.getState();
	if (clip.kind !== project.scene.kind) {
		store
			.getState()
			.refuse(`The objects on the clipboard are from a ${clip.kind} scene; this one is ${project.scene.kind}.`);
		return;
	}
	let ids: string[] = [];
	store.getState().edit(`Paste ${clip.roots.length === 1 ? 'an object' : `${clip.roots.length} objects`}`, (draft) => {
		const depths = clip.objects.flatMap((o) => (clip.roots.includes(o.id) ? [o.position?.[2] ?? 0] : []));
		ids = pasteObjects(draft, clip, beside(project, world(store), depths));
	});
	store.getState().pickAll(ids);
}

/**
 * Where there is room for something new: beside what is in hand, or in the middle.
 * @param half half the width of what comes, metres
 */
function roomFor(store: BenchStore, half = 0.3): Vec3 {
	const { picked, project } = store.getState();
	const now = world(store);
	const by = picked === null ? undefined : now.objectById.get(picked);
	if (!by || isFloor(by.def))
		return now.flat ? [0, 0, topDepth(project, now)] : [0, heightBelow(now, 0, 0, 100, () => false), 0];
	const x = extentOf(now, by, 0)[1] + (now.flat ? 0.1 : 0.5 + half);
	if (now.flat) return [x, by.position[1], topDepth(project, now)];
	return [x, heightBelow(now, x, by.position[2], extentOf(now, by, 1)[1] + 0.01, () => false), by.position[2]];
}

export function dropShape(store: BenchStore, kind: ShapeKind): void {
	const { flat } = world(store);
	addShape(store, kind, { at: roomFor(store), yaw: 0, size: usualSize(kind, flat) });
}

/** Takes what an edit makes in hand. */
function make(store: BenchStore, label: string, recipe: (draft: Project) => string[]): void {
	let ids: string[] = [];
	store.getState().edit(label, (draft) => {
		ids = recipe(draft);
	});
	const { project, pickAll } = store.getState();
	if (ids.length > 0 && ids.every((id) => project.scene.objects.some((o) => o.id === id))) pickAll(ids);
}

export function addShape(
	store: BenchStore,
	kind: ShapeKind,
	{ at, yaw, size }: Pick<Placed, 'at' | 'yaw' | 'size'>,
): void {
	make(store, `Add a ${kind}`, (draft) => [addObject(draft, kind, at, size, { yaw })]);
}

/** Places a thing that is ready, or one's own. */
export function addReadyMade(store: BenchStore, thing: string, placed?: Placed): void {
	const { picked: model } = store.getState();
	const of = thing === 'ghost' && model !== null ? world(store).objectById.get(model) : undefined;
	const [low, high] = of ? extentOf(world(store), of, 0) : [0, 0.6];
	const at = placed?.at ?? roomFor(store, (high - low) / 2);
	if (thing.startsWith('own:')) {
		const own = ownReadyMades(store.getState().project).find((t) => t.id === thing.slice(4));
		if (own) make(store, `Add ${own.name}`, (draft) => placeOwn(draft, own.id, { at }));
		return;
	}
	const known = READY_MADES.find((t) => t.id === thing);
	if (!known) return;
	const usual: Placed = { at, yaw: 0, size: known.usual, from: at, to: at };
	const { picked, project } = store.getState();
	make(store, `Add a ${known.label}`, (draft) => known.make(draft, placed ?? usual, picked));
	// What brings a question of its own is looked at by it.
	const asked = store.getState().project.queries.at(-1);
	if (asked && !project.queries.some((q) => q.id === asked.id)) store.getState().open(asked.id);
}

/** Keeps what is in hand, with what hangs on it, as a thing to place again. */
export function keepInHand(store: BenchStore): void {
	const { picked, project, editPlain } = store.getState();
	if (picked !== null)
		editPlain(`Keep ${nameOf(project, 'object', picked)} as a thing`, (draft) => void keepReadyMade(draft, picked));
}

export function groupInHand(store: BenchStore): void {
	editHand(store, 'Group', (draft, ids, now) => [groupObjects(draft, now, ids)]);
}

export function toggleFlag(store: BenchStore, key: 'hidden' | 'locked', on: string, off: string): void {
	const { selection, project } = store.getState();
	const test = key === 'hidden' ? isHidden : isLocked;
	const all = selection.every((id) => test(project.scene.objects.find((o) => o.id === id)));
	editHand(store, all ? off : on, (draft, ids) => {
		setFlag(draft, ids, key, !all);
		return undefined;
	});
}

export function align(store: BenchStore, axis: 0 | 1 | 2, edge: 'low' | 'middle' | 'high'): void {
	editHand(store, 'Align', (draft, ids, now) => {
		alignObjects(draft, now, ids, axis, edge);
		return undefined;
	});
}

export function distribute(store: BenchStore, axis: 0 | 1 | 2): void {
	editHand(store, 'Spread out', (draft, ids, now) => {
		distributeObjects(draft, now, ids, axis);
		return undefined;
	});
}

/** Hangs all but the last picked under the last picked, or under nothing. */
export function attachInHand(store: BenchStore, to: string | null): void {
	editHand(store, to === null ? 'Detach' : 'Attach', (draft, ids, now) => {
		for (const id of ids) if (id !== to) hangUnder(draft, now, id, to);
		return undefined;
	});
}

export function stepQuery(store: BenchStore, by: number): void {
	const { project, query } = store.getState();
	const at = project.queries.findIndex((q) => q.id === query);
	const next = project.queries[(at + by + project.queries.length) % Math.max(1, project.queries.length)];
	if (next) store.getState().open(next.id);
}

export function duplicateQuery(store: BenchStore, id: string): void {
	let twin = '';
	store.getState().edit(`Duplicate ${nameOf(store.getState().project, 'query', id)}`, (draft) => {
		const at = draft.queries.findIndex((q) => q.id === id);
		const source = draft.queries[at];
		if (!source) return;
		twin = freshId(
			draft.queries.map((q) => q.id),
			id,
		);
		draft.queries.splice(at + 1, 0, {
			...JSON.parse(JSON.stringify(source)),
			id: twin,
			name: `${source.name ?? source.id}, copy`,
		});
	});
	store.getState().open(twin);
}

export function moveQuery(store: BenchStore, id: string, by: -1 | 1): void {
	store.getState().edit(`Move ${nameOf(store.getState().project, 'query', id)}`, (draft) => {
		const at = draft.queries.findIndex((q) => q.id === id);
		const to = at + by;
		const [a, b] = [draft.queries[at], draft.queries[to]];
		if (!a || !b) return;
		draft.queries[at] = b;
		draft.queries[to] = a;
	});
}

export function switchQuery(store: BenchStore, id: string): void {
	const now = world(store).queryById.get(id)?.enabled !== false;
	store.getState().edit(`Switch ${nameOf(store.getState().project, 'query', id)} ${now ? 'off' : 'on'}`, (draft) => {
		const query = draft.queries.find((q) => q.id === id);
		if (!query) return;
		if (now) query.enabled = false;
		else delete query.enabled;
	});
}

export function newQuery(store: BenchStore, kind: Parameters<typeof freshQuery>[1]): void {
	const { project, picked } = store.getState();
	let made: string | null = null;
	store.getState().edit(`New ${kind}`, (draft) => {
		// Without a camera there is nothing to pick through: one comes with the query.
		if (kind === 'pick' && draft.scene.cameras.length === 0)
			addCamera(draft, likelyAsker(project, picked) ?? null, draft.scene.kind === 'flat');
		const query = freshQuery(draft, kind, picked);
		if (query) draft.queries.push(query);
		made = query?.id ?? null;
	});
	if (made === null) return store.getState().refuse('A hitbox swings with an object, and this scene has none.');
	store.getState().open(made);
	store.getState().markPart('Layers to choose from', true);
}

/** Asks whether what is in hand may stand where it stands, or a volume of a metre beside the middle. */
export function newRoom(store: BenchStore): void {
	const { project, picked } = store.getState();
	const query = freshRoom(project, picked, roomFor(store));
	store.getState().edit('New question of room', (draft) => void draft.queries.push(query));
	store.getState().open(query.id);
	store.getState().markPart('Room', true);
}

/** Moves what the open question of room asks for: who asks it, or the place it is asked at. @param by metres in the world */
export function moveAsked(store: BenchStore, what: string, by: Vec3): void {
	const { query } = store.getState();
	const now = world(store);
	store.getState().edit(what, (draft) => {
		const asked = draft.queries.find((q) => q.id === query);
		if (asked?.kind !== 'overlap') return;
		const { at } = asked;
		const object = at.object ?? at.focus;
		if (object !== undefined) shiftObject(draft, now, object, by);
		else if (at.point)
			asked.at = { point: roundedTriple([at.point[0] + by[0], at.point[1] + by[1], at.point[2] + by[2]]) };
	});
}

export function toggleDock(store: BenchStore, dock: Dock): void {
	store.getState().dockAt(store.getState().dock === dock ? null : dock);
}

export function stepMoment(store: BenchStore, by: number): void {
	const { project, moment } = store.getState();
	const list = [null, ...(project.moments ?? []).map((m) => m.id)];
	const at = list.indexOf(moment);
	store.getState().lookAt(list[(at + by + list.length) % list.length] ?? null);
}

/** Adds a camera, on the object in hand where there is one, and takes it in hand. */
export function newCamera(store: BenchStore): void {
	const { picked } = store.getState();
	let id = '';
	store.getState().edit('Add a camera', (draft) => {
		id = addCamera(draft, picked, world(store).flat);
	});
	if (store.getState().derived.world.cameras.has(id)) store.getState().takeCamera(id);
}
