/** Everything that can be done on the bench, by name and by key: the palette, the key list and the keyboard read this one list. */
import type { Project } from '@frelk/core';
import { readLocal, writeLocal } from '../../data/local';
import type { BenchStore } from '../../model/bench-state';
import {
	addReadyMade,
	align,
	attachInHand,
	copyInHand,
	distribute,
	dropShape,
	duplicateInHand,
	editHand,
	groupInHand,
	keepInHand,
	newCamera,
	newQuery,
	newRoom,
	paste,
	stepMoment,
	stepQuery,
	toggleDock,
	toggleFlag,
} from '../edit/acts';
import { FLAT_SHAPES, SPACE_SHAPES } from '../edit/objects';
import { READY_MADES } from '../edit/ready-mades';
import { standObjects } from '../edit/standing';

interface Command {
	id: string;
	/** What it does, as an instruction. */
	label: string;
	group: 'Scene' | 'In hand' | 'Queries' | 'View' | 'Project';
	/** Other words people look for it by. */
	also?: string;
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

const nothing = (store: BenchStore): string | undefined =>
	store.getState().selection.length === 0 ? 'nothing is in hand' : undefined;
const fewer = (n: number) => (store: BenchStore) =>
	store.getState().selection.length < n ? `fewer than ${n} objects are in hand` : undefined;

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
				...(id === 'ghost' ? { also: 'fits free room place build preview' } : {}),
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
						also: 'set down put down drop land ground',
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
			id: 'frame',
			label: 'Bring it into view; with nothing in hand the query',
			group: 'In hand',
			keys: 'v',
			also: 'frame focus zoom center look at show',
			run: (s) => s.getState().frameHand(),
		},
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
			id: 'new-room',
			label: 'New question of room: may it stand here',
			group: 'Queries',
			also: 'fits free space place placement blocked ghost build',
			run: newRoom,
		},
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
