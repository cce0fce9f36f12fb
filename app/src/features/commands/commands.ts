/** Everything that can be done on the bench, by name and by key: the palette, the key list and the keyboard read this one list. */
import { type Project, rounded, type ShapeKind, type Vec3, type World } from '@frelk/core';
import { readLocal, writeLocal } from '../../data/local';
import type { BenchStore, Dock } from '../../model/bench-state';
import { nameOf } from '../../model/names';
import { addCamera } from '../edit/cameras';
import { topDepth } from '../edit/depth';
import { freshQuery, isFloor, likelyAsker } from '../edit/fresh-query';
import {
	addObject,
	alignObjects,
	copyObjects,
	distributeObjects,
	duplicateObjects,
	extentOf,
	FLAT_SHAPES,
	freshId,
	groupObjects,
	hangUnder,
	isHidden,
	isLocked,
	pasteObjects,
	readClip,
	SPACE_SHAPES,
	setFlag,
} from '../edit/objects';
import { keepReadyMade, ownReadyMades, type Placed, placeOwn, READY_MADES } from '../edit/ready-mades';
import { heightBelow, standObjects } from '../edit/standing';
import { usualSize } from '../edit/usual-size';

interface Command {
	id: string;
	/** What it does, as an instruction. */
	label: string;
	group: 'Scene' | 'In hand' | 'Queries' | 'View' | 'Project';
	/** As shown and as matched: `d`, `Ctrl z`, `Shift Ctrl z`. */
	keys?: string;
	/** By its key it acts only where the stage is seen: it is about what is in hand there, or would take it in hand. */
	onBench?: true;
	/** The browser's own event does it; the key is only listed. */
	native?: true;
	run: (store: BenchStore) => void;
	/** Why it cannot be done now; undefined when it can. */
	not?: (store: BenchStore) => string | undefined;
}

const world = (store: BenchStore): World => store.getState().derived.world;
const nothing = (store: BenchStore): string | undefined =>
	store.getState().selection.length === 0 ? 'nothing is in hand' : undefined;
const fewer = (n: number) => (store: BenchStore) =>
	store.getState().selection.length < n ? `fewer than ${n} objects are in hand` : undefined;

/** The words for what is in hand. */
export function handWords(project: Project, ids: readonly string[]): string {
	return ids.length === 1 ? nameOf(project, 'object', ids[0] as string) : `${ids.length} objects`;
}

function editHand(
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

function duplicateInHand(store: BenchStore): void {
	const { project } = store.getState();
	editHand(store, 'Duplicate', (draft, ids, now) => {
		const depths = ids.map((id) => now.objectById.get(id)?.position[2] ?? 0);
		return duplicateObjects(draft, ids, beside(project, now, depths));
	});
}

async function copyInHand(store: BenchStore): Promise<void> {
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

/** Where there is room for something new: beside what is in hand, or in the middle. */
function roomFor(store: BenchStore): Vec3 {
	const { picked, project } = store.getState();
	const now = world(store);
	const by = picked === null ? undefined : now.objectById.get(picked);
	if (!by || isFloor(by.def))
		return now.flat ? [0, 0, topDepth(project, now)] : [0, heightBelow(now, 0, 0, 100, () => false), 0];
	const x = extentOf(now, by, 0)[1] + (now.flat ? 0.1 : 0.8);
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
	const at = placed?.at ?? roomFor(store);
	if (thing.startsWith('own:')) {
		const own = ownReadyMades(store.getState().project).find((t) => t.id === thing.slice(4));
		if (own) make(store, `Add ${own.name}`, (draft) => placeOwn(draft, own.id, { at }));
		return;
	}
	const known = READY_MADES.find((t) => t.id === thing);
	if (!known) return;
	const usual: Placed = { at, yaw: 0, size: known.usual, from: at, to: at };
	make(store, `Add a ${known.label}`, (draft) => known.make(draft, placed ?? usual));
}

/** Keeps what is in hand, with what hangs on it, as a thing to place again. */
function keepInHand(store: BenchStore): void {
	const { picked, project, editPlain } = store.getState();
	if (picked !== null)
		editPlain(`Keep ${nameOf(project, 'object', picked)} as a thing`, (draft) => void keepReadyMade(draft, picked));
}

function groupInHand(store: BenchStore): void {
	editHand(store, 'Group', (draft, ids, now) => [groupObjects(draft, now, ids)]);
}

function toggleFlag(store: BenchStore, key: 'hidden' | 'locked', on: string, off: string): void {
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
function attachInHand(store: BenchStore, to: string | null): void {
	editHand(store, to === null ? 'Detach' : 'Attach', (draft, ids, now) => {
		for (const id of ids) if (id !== to) hangUnder(draft, now, id, to);
		return undefined;
	});
}

function stepQuery(store: BenchStore, by: number): void {
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

function toggleDock(store: BenchStore, dock: Dock): void {
	store.getState().dockAt(store.getState().dock === dock ? null : dock);
}

function stepMoment(store: BenchStore, by: number): void {
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

const EDGES: readonly { axis: 0 | 1 | 2; edge: 'low' | 'middle' | 'high'; label: string }[] = [
	{ axis: 0, edge: 'low', label: 'Align left sides (−X)' },
	{ axis: 0, edge: 'middle', label: 'Align middles in X' },
	{ axis: 0, edge: 'high', label: 'Align right sides (+X)' },
	{ axis: 1, edge: 'low', label: 'Align undersides' },
	{ axis: 1, edge: 'middle', label: 'Align middles in Y' },
	{ axis: 1, edge: 'high', label: 'Align tops' },
	{ axis: 2, edge: 'low', label: 'Align far sides (−Z)' },
	{ axis: 2, edge: 'middle', label: 'Align middles in Z' },
	{ axis: 2, edge: 'high', label: 'Align near sides (+Z)' },
];

/** The commands for a project, in the order in which they are listed. */
export function commandsFor(project: Project): Command[] {
	const flat = project.scene.kind === 'flat';
	const commands: Command[] = [
		{
			id: 'commands',
			label: 'Find a command, object or query',
			group: 'Project',
			keys: 'Ctrl k',
			run: (s) => s.getState().show('commands'),
		},
		{ id: 'keys', label: 'List the keys', group: 'Project', keys: '?', run: (s) => s.getState().show('keys') },
		{
			id: 'leave',
			label: 'Leave the innermost thing',
			group: 'Project',
			keys: 'Escape',
			run: (s) => void s.getState().leave(),
		},
		{ id: 'undo', label: 'Undo', group: 'Project', keys: 'Ctrl z', run: (s) => s.getState().undo() },
		{ id: 'redo', label: 'Redo', group: 'Project', keys: 'Shift Ctrl z', run: (s) => s.getState().redo() },
		{
			id: 'walk',
			label: 'Take the first walk',
			group: 'Project',
			onBench: true,
			run: (s) => s.getState().takeWalk(true),
		},
		{
			id: 'roster',
			label: 'Roster of objects, or away with it',
			group: 'Scene',
			keys: 'r',
			run: (s) => toggleDock(s, 'roster'),
		},
		...(flat ? FLAT_SHAPES : SPACE_SHAPES).map(
			(kind): Command => ({
				id: `add-${kind}`,
				label: `Add a ${kind}`,
				group: 'Scene',
				run: (s) => dropShape(s, kind),
			}),
		),
		...(flat ? [] : READY_MADES).map(
			({ id, label }): Command => ({
				id: `thing-${id}`,
				label: `Add a ${label}`,
				group: 'Scene',
				run: (s) => addReadyMade(s, id),
			}),
		),
		{
			id: 'measure',
			label: 'Measure between two places',
			group: 'Scene',
			keys: 'e',
			run: (s) => s.getState().use({ kind: 'measure' }),
		},
		{ id: 'add-camera', label: 'Add a camera', group: 'Scene', run: newCamera },
		{ id: 'paste', label: 'Paste objects', group: 'Scene', keys: 'Ctrl v', native: true, run: (s) => paste(s) },
		{
			id: 'all',
			label: 'Take every object in hand',
			group: 'Scene',
			keys: 'Ctrl a',
			run: (s) => s.getState().pickAll(s.getState().project.scene.objects.map((o) => o.id)),
		},
		{ id: 'copy', label: 'Copy', group: 'In hand', keys: 'Ctrl c', run: (s) => void copyInHand(s), not: nothing },
		{ id: 'duplicate', label: 'Duplicate', group: 'In hand', keys: 'd', run: duplicateInHand, not: nothing },
		{ id: 'group', label: 'Group under a new parent', group: 'In hand', keys: 'g', run: groupInHand, not: nothing },
		{
			id: 'attach',
			label: 'Attach the others to the last one taken',
			group: 'In hand',
			keys: 'a',
			run: (s) => attachInHand(s, s.getState().picked),
			not: fewer(2),
		},
		{
			id: 'detach',
			label: 'Detach from what it hangs on',
			group: 'In hand',
			run: (s) => attachInHand(s, null),
			not: nothing,
		},
		...(flat
			? []
			: [
					{
						id: 'stand',
						label: 'Stand on what is below',
						group: 'In hand',
						keys: 's',
						run: (s) =>
							editHand(s, 'Stand', (draft, ids, now) => {
								standObjects(draft, now, ids);
								return undefined;
							}),
						not: nothing,
					} satisfies Command,
				]),
		{
			id: 'pin',
			label: 'Pin its verdict at the head of the ladder, or take the pin out',
			group: 'In hand',
			keys: 'p',
			run: (s) => {
				const { picked, pinned, pin } = s.getState();
				pin(pinned === picked ? null : picked);
			},
			not: nothing,
		},
		{
			id: 'keep-thing',
			label: 'Keep as a thing to place again',
			group: 'In hand',
			run: keepInHand,
			not: nothing,
		},
		{
			id: 'hide',
			label: 'Hide on the stage, or show again',
			group: 'In hand',
			keys: 'h',
			run: (s) => toggleFlag(s, 'hidden', 'Hide', 'Show'),
			not: nothing,
		},
		{
			id: 'lock',
			label: 'Lock against the hand, or unlock',
			group: 'In hand',
			keys: 'l',
			run: (s) => toggleFlag(s, 'locked', 'Lock', 'Unlock'),
			not: nothing,
		},
		{
			id: 'delete',
			label: 'Delete',
			group: 'In hand',
			keys: 'Delete',
			run: (s) => {
				const { show, selection, camera } = s.getState();
				if (selection.length > 0) show({ delete: { kind: 'object', ids: [...selection] } });
				else if (camera !== null) show({ delete: { kind: 'camera', ids: [camera] } });
			},
			not: (s) => (s.getState().camera === null ? nothing(s) : undefined),
		},
		...EDGES.filter((e) => !flat || e.axis < 2).map(
			(e): Command => ({
				id: `align-${e.axis}-${e.edge}`,
				label: e.label,
				group: 'In hand',
				run: (s) => align(s, e.axis, e.edge),
				not: fewer(2),
			}),
		),
		...([0, 1, 2] as const)
			.filter((axis) => !flat || axis < 2)
			.map(
				(axis): Command => ({
					id: `spread-${axis}`,
					label: `Spread out evenly in ${'XYZ'[axis]}`,
					group: 'In hand',
					run: (s) => distribute(s, axis),
					not: fewer(3),
				}),
			),
		...(['ray', 'pick', 'sweep', 'overlap', 'hitbox'] as const).map(
			(kind): Command => ({ id: `new-${kind}`, label: `New ${kind}`, group: 'Queries', run: (s) => newQuery(s, kind) }),
		),
		{
			id: 'swing',
			label: 'Let the swing of the open hitbox run',
			group: 'Queries',
			keys: 'w',
			run: (s) => s.getState().letSwing(),
			not: (s) => {
				const { project: p, query } = s.getState();
				return p.queries.find((q) => q.id === query)?.kind === 'hitbox' ? undefined : 'no hitbox is open';
			},
		},
		{
			id: 'would-change',
			label: 'What would change the answer with the least',
			group: 'Queries',
			run: (s) => s.getState().want({ wish: 'change' }),
			not: (s) => (s.getState().query === null ? 'there is no query' : undefined),
		},
		{ id: 'next-query', label: 'Next query', group: 'Queries', keys: 'n', run: (s) => stepQuery(s, 1) },
		{ id: 'last-query', label: 'Query before', group: 'Queries', keys: 'b', run: (s) => stepQuery(s, -1) },
		{ id: 'next-moment', label: 'Next moment', group: 'Queries', keys: '.', run: (s) => stepMoment(s, 1) },
		{ id: 'last-moment', label: 'Moment before', group: 'Queries', keys: ',', run: (s) => stepMoment(s, -1) },
		{ id: 'moments', label: 'Edit the moments', group: 'Queries', keys: 'm', run: (s) => toggleDock(s, 'moments') },
		...(['layer', 'tag', 'side', 'verdict'] as const).map(
			(by): Command => ({
				id: `tint-${by}`,
				label: `Tint objects by ${by}`,
				group: 'View',
				run: (s) => s.getState().tintBy(by),
			}),
		),
	];
	for (const command of commands)
		if (command.group === 'In hand' || command.group === 'Scene' || command.group === 'Queries') command.onBench = true;
	return commands;
}

/** Whether a key event is the one a command is listed with. */
export function matches(
	keys: string,
	event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'>,
): boolean {
	const parts = keys.split(' ');
	const key = parts.at(-1) as string;
	const ctrl = parts.includes('Ctrl');
	if (event.altKey || ctrl !== (event.ctrlKey || event.metaKey)) return false;
	// `?` is typed with Shift on many keyboards and without on others.
	if (/^[a-z]$|^Delete$/.test(key) && parts.includes('Shift') !== event.shiftKey) return false;
	return event.key.toLowerCase() === key.toLowerCase();
}

/** Whether a command goes by one key alone, as may be pressed, or spoken, by mistake. */
export const isLetter = (keys: string): boolean => keys.length === 1;

const LETTERS = 'frelk-letters';

/** Single keys are shortcuts unless they were switched off. */
export const lettersAct = (): boolean => readLocal(LETTERS) !== 'off';
export const letLettersAct = (act: boolean): void => void writeLocal(LETTERS, act ? 'on' : 'off');
