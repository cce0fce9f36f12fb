/** What the palette finds: queries, commands, moments and objects, in one list. */
import type { Project } from '@frelk/core';
import { exportProject } from '../../data/files';
import type { BenchStore } from '../../model/bench-state';
import { commandsFor } from '../commands/commands';
import { partsOf } from '../sentence/words';
import { addressOf, VIEWS } from './views';

export interface Findable {
	id: string;
	kind: 'Part' | 'Query' | 'Command' | 'View' | 'Moment' | 'Object' | 'Camera';
	label: string;
	/** What it can be found by, in small letters. */
	words: string;
	/** What stands beside it. */
	beside: string;
	keys?: string;
	/** Why it cannot be done now. */
	not?: string;
	run: () => void;
}

/** @param go to an address */
export function findables(store: BenchStore, project: Project, go: (to: string) => void = () => {}): Findable[] {
	const { open, lookAt, pick, takeCamera } = store.getState();
	const entry = (kind: Findable['kind'], id: string, label: string, beside: string, run: () => void): Findable => ({
		id: `${kind} ${id}`,
		kind,
		label,
		words: `${label} ${id} ${kind}`.toLowerCase(),
		beside,
		run,
	});
	const commands = commandsFor(project).flatMap((command): Findable[] => {
		if (command.id === 'commands') return [];
		const not = command.not?.(store);
		return [
			{
				...entry('Command', command.id, command.label, `command · ${command.group}`, () => command.run(store)),
				words: `${command.label} ${command.group} command ${command.also ?? ''}`.toLowerCase(),
				...(command.keys === undefined ? {} : { keys: command.keys }),
				...(not === undefined ? {} : { not }),
			},
		];
	});
	const query = project.queries.find((q) => q.id === store.getState().query);
	const parts = partsOf(query).map((part) =>
		entry('Part', part, part, `of the sentence · ${query?.name ?? query?.id}`, () =>
			store.getState().markPart(part, true),
		),
	);
	return [
		...parts,
		...project.queries.map((q) => entry('Query', q.id, q.name ?? q.id, `query · ${q.kind}`, () => open(q.id))),
		...commands,
		...VIEWS.map((view) => ({
			...entry('View', view.id, view.label, 'view', () => go(addressOf(view, store.getState().key))),
			words: `${view.label} ${view.also} view`.toLowerCase(),
		})),
		{
			...entry('View', 'export', 'Save the project’s file', 'export', () => exportProject(store.getState().project)),
			words: 'save the project’s file export download json',
		},
		entry('Moment', '', 'Scene as laid out', 'moment', () => lookAt(null)),
		...(project.moments ?? []).map((m) => entry('Moment', m.id, m.name ?? m.id, 'moment', () => lookAt(m.id))),
		...project.scene.objects.map((o) =>
			entry('Object', o.id, o.name ?? o.id, ['object', ...(o.tags ?? [])].join(' · '), () => pick(o.id)),
		),
		...project.scene.cameras.map((c) => entry('Camera', c.id, c.name ?? c.id, 'camera', () => takeCamera(c.id))),
	];
}

/**
 * Those in which every word of a text is found: whose name begins with it first, then those of which a word does, then the rest, each in
 * the order in which they were.
 */
export function matching(list: readonly Findable[], text: string): Findable[] {
	const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
	const first = wanted[0];
	if (first === undefined) return [...list];
	const whole = wanted.join(' ');
	const rank = ({ label, words }: Findable): number =>
		label.toLowerCase().startsWith(whole) ? 0 : words.startsWith(first) || words.includes(` ${first}`) ? 1 : 2;
	return list
		.filter(({ words }) => wanted.every((word) => words.includes(word)))
		.map((found) => ({ found, rank: rank(found) }))
		.sort((a, b) => a.rank - b.rank)
		.map(({ found }) => found);
}
