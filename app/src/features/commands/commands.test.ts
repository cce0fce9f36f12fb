import { checkProject } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { createBench } from '../../model/store';
import { handWords } from '../edit/acts';
import { commandsFor, matches } from './commands';

const key = (name: string, held: Partial<Record<'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey', boolean>> = {}) => ({
	key: name,
	ctrlKey: false,
	metaKey: false,
	shiftKey: false,
	altKey: false,
	...held,
});

describe('commands', () => {
	it('have names and keys of their own', () => {
		for (const name of ['harl-quay', 'pursers-desk']) {
			const list = commandsFor(example(name));
			expect(new Set(list.map((c) => c.id)).size).toBe(list.length);
			expect(new Set(list.map((c) => c.label)).size).toBe(list.length);
			const keys = list.flatMap((c) => c.keys ?? []);
			expect(new Set(keys).size).toBe(keys.length);
		}
	});

	it('leave a valid project, whatever is in hand, and take every step back', () => {
		for (const name of ['harl-quay', 'deck-from-above'])
			for (const hand of [[], ['boathook'], ['deckhand', 'boathook', name === 'harl-quay' ? 'crate-1' : 'coil']])
				for (const command of commandsFor(example(name))) {
					// The clipboard belongs to the browser.
					if (['copy', 'paste'].includes(command.id)) continue;
					const store = createBench(name, example(name));
					const before = store.getState().project;
					store.getState().pickAll(hand);
					if (command.not?.(store) !== undefined) continue;
					command.run(store);
					const { project, past } = store.getState();
					const checked = checkProject(project);
					expect(checked.ok ? [] : [command.id, checked.problems]).toEqual([]);
					for (let i = 0; i < past.length; i++) store.getState().undo();
					expect(store.getState().project).toBe(before);
				}
	});

	it('say why they cannot be done', () => {
		const store = createBench('q', example('harl-quay'));
		const by = (id: string) => commandsFor(store.getState().project).find((c) => c.id === id);
		expect(by('duplicate')?.not?.(store)).toBe('nothing is in hand');
		store.getState().pick('crank');
		expect(by('duplicate')?.not?.(store)).toBeUndefined();
		expect(by('attach')?.not?.(store)).toBe('fewer than 2 objects are in hand');
		expect(by('spread-0')?.not?.(store)).toContain('fewer than 3');
		expect(handWords(store.getState().project, ['crank'])).toBe('Gangway crank');
		expect(handWords(store.getState().project, ['crank', 'bell'])).toBe('2 objects');
	});

	it('go round through queries and moments', () => {
		const store = createBench('q', example('harl-quay'));
		const run = (id: string) =>
			commandsFor(store.getState().project)
				.find((c) => c.id === id)
				?.run(store);
		const first = store.getState().query;
		for (let i = 0; i < store.getState().project.queries.length; i++) run('next-query');
		expect(store.getState().query).toBe(first);
		run('last-moment');
		expect(store.getState().moment).toBe(store.getState().project.moments?.at(-1)?.id);
		run('next-moment');
		expect(store.getState().moment).toBeNull();
	});
});

describe('keys', () => {
	it('are told by what is held with them', () => {
		expect(matches('d', key('d'))).toBe(true);
		expect(matches('d', key('D', { shiftKey: true }))).toBe(false);
		expect(matches('d', key('d', { ctrlKey: true }))).toBe(false);
		expect(matches('Ctrl z', key('z', { metaKey: true }))).toBe(true);
		expect(matches('Ctrl z', key('Z', { ctrlKey: true, shiftKey: true }))).toBe(false);
		expect(matches('Shift Ctrl z', key('Z', { ctrlKey: true, shiftKey: true }))).toBe(true);
		expect(matches('?', key('?', { shiftKey: true }))).toBe(true);
		expect(matches('?', key('?'))).toBe(true);
		expect(matches('Delete', key('Delete'))).toBe(true);
		expect(matches('d', key('d', { altKey: true }))).toBe(false);
	});
});
