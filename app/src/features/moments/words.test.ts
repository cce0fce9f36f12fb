import { type Difference, differencesOf } from '@frelk/core/editing';
import { example } from '@frelk/core/tests/examples';
import { expect, it } from 'vitest';
import { wordsOfDifference } from './words';

const quay = () => example('harl-quay');

it('says what a moment changes, from what to what, with names', () => {
	const p = quay();
	const d = (part: Partial<Difference>): Difference => ({
		of: 'object',
		id: 'crank',
		field: 'position',
		key: null,
		from: null,
		to: null,
		...part,
	});
	expect(wordsOfDifference(p, d({ field: 'states', key: 'jammed', from: false, to: true }))).toBe(
		'Gangway crank: jammed, no → yes',
	);
	expect(wordsOfDifference(p, d({ from: [0, 0, 0], to: [1.23456, 0, -2] }))).toBe(
		'Gangway crank: place, (0, 0, 0) → (1.235, 0, -2)',
	);
	expect(wordsOfDifference(p, d({ field: 'parent', from: null, to: 'deckhand' }))).toBe(
		'Gangway crank: hangs on, none → Deckhand',
	);
	expect(wordsOfDifference(p, d({ field: 'tags', from: ['crank'], to: [] }))).toBe('Gangway crank: tags, crank → none');
	expect(wordsOfDifference(p, d({ field: 'shapes', key: 'wheel', from: true, to: false }))).toBe(
		'Gangway crank: shape wheel, yes → no',
	);
	expect(wordsOfDifference(p, d({ of: 'scene', id: '', field: 'states', key: 'tide-high', from: 0, to: 3 }))).toBe(
		'Scene: tide-high, 0 → 3',
	);
	expect(wordsOfDifference(p, d({ of: 'query', id: 'gaze', field: 'enabled', from: true, to: false }))).toBe(
		'Gaze: enabled, yes → no',
	);
	// Every difference of the example can be said.
	for (const m of p.moments ?? [])
		for (const x of differencesOf(p, m.id)) expect(wordsOfDifference(p, x)).toMatch(/^\S.*: .+, .+ → .+$/);
});
