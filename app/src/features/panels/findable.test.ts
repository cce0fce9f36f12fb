import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { createBench } from '../../model/store';
import { type Findable, findables, matching } from './findable';

const store = createBench('p', example('harl-quay'));
const all = findables(store, store.getState().project);
const find = (text: string) => matching(all, text);
const entry = (label: string, words = label.toLowerCase()): Findable => ({
	id: label,
	kind: 'Object',
	label,
	words,
	beside: '',
	run: () => {},
});

describe('what is found', () => {
	it('is everything that can be opened, taken or done, each once', () => {
		const { project } = store.getState();
		const count = (kind: Findable['kind']) => all.filter((one) => one.kind === kind).length;
		expect(count('Query')).toBe(project.queries.length);
		expect(count('Object')).toBe(project.scene.objects.length);
		expect(count('Moment')).toBe((project.moments?.length ?? 0) + 1);
		expect(new Set(all.map((one) => one.id)).size).toBe(all.length);
		// The palette does not find itself.
		expect(all.some((one) => one.id === 'Command commands')).toBe(false);
		expect(find('')).toEqual(all);
	});

	it('is every view and act by the words people use', () => {
		for (const [word, id] of [
			['import', 'View level'],
			['glb', 'View level'],
			['guide', 'View guide'],
			['help', 'View guide'],
			['checks', 'View board'],
			['findings', 'View findings'],
			['map', 'View maps'],
			['layers', 'View filters'],
			['room', 'Command new-room'],
			['fits', 'Command new-room'],
			['set down', 'Command stand'],
			['ghost', 'Command thing-ghost'],
			['export', 'View export'],
		] as const)
			expect(
				find(word)
					.slice(0, 6)
					.map((one) => one.id),
				word,
			).toContain(id);
	});

	it('goes to the address of a view', () => {
		const gone: string[] = [];
		const views = findables(store, store.getState().project, (to) => gone.push(to)).filter(
			(one) => one.kind === 'View',
		);
		for (const view of views) if (view.id !== 'View export') view.run();
		expect(gone).toContain('/p/p/checks?tab=findings');
		expect(gone).toContain('/p/p');
		expect(gone).toContain('/guide');
	});

	it('has every word, what begins with them first', () => {
		const list = [entry('A bow crank'), entry('Crank'), entry('Bollard'), entry('Sea-crank'), entry('Crank, bow')];
		const labels = (text: string) => matching(list, text).map((one) => one.label);
		expect(labels('crank')).toEqual(['Crank', 'Crank, bow', 'A bow crank', 'Sea-crank']);
		expect(labels('bow CRANK ')).toEqual(['A bow crank', 'Crank, bow']);
		expect(labels('bowx')).toEqual([]);
	});

	it('can be narrowed to its kind', () => {
		expect(new Set(find('object crank').map((one) => one.kind))).toEqual(new Set(['Object']));
		expect(new Set(find('moment').map((one) => one.kind))).toContain('Moment');
		expect(find('query').filter((one) => one.kind === 'Query')).toHaveLength(store.getState().project.queries.length);
	});

	it('does what it says', () => {
		const object = find('bow crank').find((one) => one.kind === 'Object');
		object?.run();
		expect(store.getState().picked).toBe(object?.id.replace('Object ', ''));
		const query = all.filter((one) => one.kind === 'Query').at(-1);
		query?.run();
		expect(store.getState().query).toBe(query?.id.replace('Query ', ''));
		const moment = all.filter((one) => one.kind === 'Moment').at(-1);
		moment?.run();
		expect(store.getState().moment).toBe(moment?.id.replace('Moment ', ''));
		all.find((one) => one.id === 'Moment ')?.run();
		expect(store.getState().moment).toBeNull();
	});

	it('says why a command cannot be done now', () => {
		store.getState().pick(null);
		const idle = findables(store, store.getState().project).find((one) => one.id === 'Command duplicate');
		expect(idle?.not).toBe('nothing is in hand');
		store.getState().pick('crank');
		const ready = findables(store, store.getState().project).find((one) => one.id === 'Command duplicate');
		expect([ready?.not, ready?.keys]).toEqual([undefined, 'd']);
	});
});
