import { Answerer, buildWorld, checkProject, type Query } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { hex, maskFor, nextUse, renameState, rulingOf, setUse, statesOf, tagUse, USES } from './table';

const quay = () => example('harl-quay');

describe('the layer table', () => {
	it('writes what it then reads, for every query, layer and use', () => {
		const p = quay();
		const all = p.scene.layers.map((l) => l.id);
		for (const query of p.queries)
			for (const layer of all)
				for (const use of USES) {
					const before = JSON.stringify(query);
					const others = all.filter((l) => l !== layer).map((l) => rulingOf(query, l));
					if (setUse(query, layer, use, all)) expect(rulingOf(query, layer)).toBe(use);
					else expect(JSON.stringify(query)).toBe(before);
					expect(all.filter((l) => l !== layer).map((l) => rulingOf(query, l))).toEqual(others);
				}
		expect(checkProject(p).ok).toBe(true);
	});

	it('goes round through all uses, both ways', () => {
		let use = USES[0] as (typeof USES)[number];
		for (let i = 0; i < USES.length; i++) use = nextUse(nextUse(nextUse(use)), true);
		expect(use).toBe(USES[0]);
	});

	it('refuses a query that could choose from nothing', () => {
		const query = {
			id: 'q',
			kind: 'overlap',
			at: { point: [0, 0, 0] },
			shape: { kind: 'sphere', radius: 1 },
			selects: { layers: ['a'] },
		} as Query;
		expect(setUse(query, 'a', 'neither', ['a', 'b'])).toBe(false);
		expect(query.selects?.layers).toEqual(['a']);
	});

	it('gives masks by bit number', () => {
		const all = Array.from({ length: 32 }, (_, i) => `l${i}`);
		expect(maskFor(['l0', 'l3'], all, 'all')).toBe(9);
		expect(maskFor(undefined, all, 'all')).toBe(0xffffffff);
		expect(maskFor(undefined, all, 'none')).toBe(0);
		expect(hex(maskFor(['l31'], all, 'all'))).toBe('0x80000000');
	});
});

describe('tags and states', () => {
	it('says who carries and who asks, families considered', () => {
		const p = quay();
		for (const tag of p.scene.tags) {
			const { carriedBy } = tagUse(p, tag.id);
			for (const below of p.scene.tags.filter((t) => t.under === tag.id))
				expect(carriedBy).toEqual(expect.arrayContaining(tagUse(p, below.id).carriedBy));
		}
		expect(tagUse(p, 'crank').askedBy.length).toBeGreaterThan(0);
	});

	it('renames a state everywhere without changing an answer', () => {
		const p = quay();
		const before = buildWorld(p).queries.map((q) => new Answerer(buildWorld(p)).winner(q).selected);
		const { state } = statesOf(p, 'object')[0] as { state: string };
		renameState(p, 'object', state, 'renamed');
		expect(statesOf(p, 'object').some((s) => s.state === state)).toBe(false);
		expect(checkProject(p).ok).toBe(true);
		expect(buildWorld(p).queries.map((q) => new Answerer(buildWorld(p)).winner(q).selected)).toEqual(before);
	});
});
