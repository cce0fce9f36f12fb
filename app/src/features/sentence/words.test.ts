import type { Query } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import {
	anchorWords,
	conditionsWords,
	directionWords,
	layersWords,
	listWords,
	partsOf,
	rangeJoint,
	rangeWords,
	ruleWords,
	shapeWords,
	tagsWords,
	viewWords,
	windowsWords,
} from './words';

const quay = example('harl-quay');
const desk = example('pursers-desk');
const query = (more: object): Query =>
	({ id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, ...more }) as Query;

describe('the words of the sentence', () => {
	it('join lists the way people do', () => {
		expect(listWords([], 'or')).toBe('');
		expect(listWords(['a'], 'or')).toBe('a');
		expect(listWords(['a', 'b', 'c'], 'or')).toBe('a, b or c');
	});

	it('name anchors by what they are on', () => {
		expect(anchorWords(quay, { camera: 'deckhand-eye' })).toBe("Deckhand's eye");
		expect(anchorWords(quay, { object: 'crank' })).toBe('Gangway crank');
		expect(anchorWords(quay, { object: 'crank', offset: [0, 0.5, 0] })).toBe('Gangway crank (0, 0.5, 0)');
		expect(anchorWords(quay, { object: 'crank', offset: [0, 0, 0] })).toBe('Gangway crank');
		expect(anchorWords(quay, { focus: 'bell' })).toBe('the focus of Quay bell');
		expect(anchorWords(quay, { point: [1, 2.345, -3] })).toBe('(1, 2.35, -3)');
		expect(anchorWords(quay, { hitOf: 'harbour-pick', off: 0.05 })).toBe(
			'the hit of Harbour pick, 0.05 m off the surface',
		);
	});

	it('say where a direction goes', () => {
		expect(directionWords(quay, { along: [0, 0, -1], of: 'deckhand' })).toBe('straight ahead of Deckhand');
		expect(directionWords(quay, { along: [0, 0, -1] })).toBe('along (0, 0, -1)');
		expect(directionWords(quay, { along: [1, 0, 0], of: 'deckhand' })).toBe('along (1, 0, 0) of Deckhand');
		expect(directionWords(desk, { along: [1, 0, 0], of: 'stub-101' })).toBe('straight ahead of Stub 101');
		expect(directionWords(quay, { toward: { focus: 'bell' } })).toBe('toward the focus of Quay bell');
	});

	it('say what is filtered', () => {
		expect(layersWords(quay, 'all')).toBe('any layer');
		expect(layersWords(quay, undefined)).toBe('any layer');
		expect(layersWords(quay, ['walls', 'cargo'])).toBe('Walls or Cargo');
		expect(tagsWords(query({ selects: { tags: { any: ['crank'], none: ['cover', 'tool'] } } }))).toBe(
			'crank, not cover nor tool',
		);
		expect(tagsWords(query({ selects: { tags: { any: ['crank', 'bell'], all: ['fitting'] } } }))).toBe(
			'any of crank, bell, fitting',
		);
		expect(tagsWords(query({}))).toBe('');
		const when = [
			{ of: 'target', state: 'jammed', is: false },
			{ of: 'asker', state: 'wear', above: 0, below: 5 },
		];
		expect(conditionsWords(query({ selects: { when } }))).toBe('jammed is no and the asker’s wear above 0 and below 5');
	});

	it('say how far and how wide', () => {
		const ranged = (range: object) => {
			const of = query({ range });
			return `${rangeJoint(of)} ${rangeWords(quay, of)}`;
		};
		expect(ranged({ max: 2 })).toBe('within 2 m');
		expect(ranged({ min: 0.5, max: 12.25, to: 'focus', flat: true })).toBe(
			'between 0.5 m and 12.3 m, to the focus, level',
		);
		expect(ranged({ min: 1, from: { object: 'deckhand' } })).toBe('beyond 1 m of Deckhand');
		expect(ranged({})).toBe('within any distance');
		expect(rangeWords(quay, query({}))).toBe('');
		expect(viewWords(quay, query({ view: { within: 30 } }))).toBe('30° of the path');
		expect(viewWords(quay, query({ kind: 'overlap', view: { within: 75, flat: true } }))).toBe(
			'75° of straight ahead, level',
		);
	});

	it('say shapes and rules', () => {
		expect(shapeWords({ kind: 'box', size: [1, 2, 0.5] })).toBe('box 1 × 2 × 0.5 m');
		expect(shapeWords({ kind: 'sphere', radius: 0.25 })).toBe('sphere of radius 0.25 m');
		expect(shapeWords({ kind: 'capsule', radius: 0.3, height: 1.2 })).toBe('capsule of radius 0.3 m, 1.2 m high');
		expect(shapeWords({ kind: 'hull' })).toBe('hull');
		expect(ruleWords({ rule: 'distance', to: 'focus' })).toBe('nearest by focus');
		expect(ruleWords({ rule: 'priority' })).toBe('higher priority');
	});
});

describe('the windows of a swing', () => {
	it('are one where they meet, and several where it is shut between', () => {
		expect(
			windowsWords([
				{ from: 0.1, until: 0.25 },
				{ from: 0.2, until: 0.4 },
			]),
		).toBe('0.1 to 0.4 s');
		expect(
			windowsWords([
				{ from: 0.3, until: 0.5 },
				{ from: 0.1, until: 0.2 },
			]),
		).toBe('0.1 to 0.2 s and 0.3 to 0.5 s');
		expect(windowsWords([{ until: 0.2 }, { from: 0.2 }])).toBe('0 s to the end');
	});
});

it('the parts of a sentence are those that are said, in its order', () => {
	const base = { id: 'q', asker: 'a' };
	const ray = { ...base, kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] } } as Query;
	expect(partsOf(ray)).toEqual(['From', 'Direction', 'Length', 'Layers to choose from', 'Choice', 'Asker']);
	expect(partsOf({ ...ray, to: { point: [0, 0, 1] } } as Query)).toEqual([
		'From',
		'To',
		'Layers to choose from',
		'Choice',
		'Asker',
	]);
	const pick = { id: 'p', kind: 'pick', camera: 'c', viewport: [2, 2] } as Query;
	expect(partsOf(pick)).toEqual(['Camera', 'Cursor', 'Layers to choose from', 'Choice']);
	expect(partsOf({ ...pick, length: 3 } as Query)).toContain('Length');
	expect(partsOf({ id: 'o', kind: 'overlap', range: { max: 1 } } as Query)).toEqual([
		'Shape',
		'At',
		'Layers to choose from',
		'Range',
		'Choice',
	]);
	expect(partsOf(undefined)).toEqual([]);
});
