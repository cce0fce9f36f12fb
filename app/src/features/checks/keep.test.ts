import {
	Answerer,
	buildWorld,
	type Check,
	checkProject,
	expectationOf,
	failureOf,
	type Query,
	runChecks,
} from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { keepFigure } from '../map/keep-figure';
import { extrasOf, keepAnswer, setExtra, wishOf } from './keep';
import { ago, reasonWords, wordsOfExpectation } from './words';

describe('keeping answers', () => {
	it('makes a check that holds, for every query at every moment', () => {
		for (const name of ['harl-quay', 'pursers-desk']) {
			const p = example(name);
			for (const moment of [null, ...(p.moments ?? []).map((m) => m.id)]) {
				const world = buildWorld(p, moment);
				for (const query of world.queries) {
					const answer = new Answerer(world).explain(query as Query);
					const id = keepAnswer(p, answer, moment);
					if (answer.status === 'waiting') expect(id).toBeNull();
					else expect(failureOf(p.checks?.at(-1)?.expect as never, answer)).toBe('');
				}
			}
			const checked = checkProject(p);
			expect(checked.ok ? [] : checked.problems).toEqual([]);
		}
	});

	it('keeps the action of a single choice only', () => {
		const s = {
			object: 'a',
			through: null,
			shape: 's',
			distance: 1,
			point: [0, 0, 0],
			normal: null,
			assisted: false,
			action: 'turn',
			prompt: null,
			box: null,
		};
		const answer = { query: 'q', status: 'selected', selected: [s], tied: [], notes: [], verdicts: [] };
		expect(expectationOf(answer as never)).toEqual({ selects: ['a'], action: 'turn' });
		expect(expectationOf({ ...answer, selected: [s, { ...s, object: 'b' }] } as never)).toEqual({
			selects: ['a', 'b'],
		});
	});

	it('wishes for the first object that is missing, else against the first too many', () => {
		const got = (ids: string[], tied: string[] = []) =>
			({ selected: ids.map((object) => ({ object })), tied }) as unknown as Parameters<typeof wishOf>[1];
		const select = (object: string) => ({ object, wish: 'select' });
		const leave = (object: string) => ({ object, wish: 'leave' });
		expect(wishOf({ selects: ['a', 'b'] }, got(['a']))).toEqual(select('b'));
		expect(wishOf({ selects: ['b'] }, got(['a']))).toEqual(select('b'));
		expect(wishOf({ selects: ['a'] }, got([], ['a', 'b']))).toEqual(select('a'));
		expect(wishOf({ selects: ['a'] }, got(['a', 'c']))).toEqual(leave('c'));
		expect(wishOf({ none: true }, got(['a']))).toEqual(leave('a'));
		expect(wishOf({ none: true }, got([], ['d', 'e']))).toEqual(leave('d'));
		expect(wishOf({ off: true, not: ['c'] }, got(['a', 'c']))).toEqual(leave('c'));
		// All of them, out of order, and nothing where a tie was wanted: no one object is the matter.
		expect(wishOf({ selects: ['a', 'b'] }, got(['b', 'a']))).toBeNull();
		expect(wishOf({ tie: ['a', 'b'] }, got(['a']))).toBeNull();
		expect(wishOf({ none: true, not: ['c'] }, got([]))).toBeNull();
	});

	it('keeps a figure of a map so that it holds, however small', () => {
		const draft = example('harl-quay');
		const figure = (share: number, circle: number | null) =>
			({ object: 'cleat-port', share, circle }) as Parameters<typeof keepFigure>[2];
		const kept = (share: number, circle: number | null) => {
			const id = keepFigure(draft, 'pick-map', figure(share, circle));
			return draft.checks?.find((c) => c.id === id);
		};
		expect(kept(0.5, 18.09)).toEqual({
			id: 'pick-map-cleat-port',
			name: 'Port cleat at least 18 px wide',
			map: 'pick-map',
			expect: { object: 'cleat-port', circle: { min: 18 } },
		});
		expect(kept(0.123456, null)).toMatchObject({
			id: 'pick-map-cleat-port-2',
			name: 'Port cleat in at least 12.34 % of the answers',
			expect: { share: { min: 0.1234 } },
		});
		expect(kept(0.0000123456, null)).toMatchObject({ expect: { share: { min: 0.00001234 } } });
		expect(kept(1, null)).toMatchObject({ expect: { share: { min: 1 } } });
	});

	it('says an expectation whole', () => {
		const named = (_kind: string, id: string) => id.toUpperCase();
		expect(wordsOfExpectation({ selects: ['a', 'b'], order: 'any', not: ['c'] }, named)).toBe(
			'A and B, in any order; not C',
		);
		expect(wordsOfExpectation({ none: true, blocked: { object: 'bell', by: 'wall' } }, named)).toBe(
			'nothing; BELL hidden by WALL',
		);
		expect(wordsOfExpectation({ selects: ['a'], action: 'turn', point: { near: [1, 2, 3], within: 0.1 } }, named)).toBe(
			'A; action turn; within 0.1 m of (1, 2, 3)',
		);
	});

	it('switches off and notes without touching other extras', () => {
		const check = { id: 'c', query: 'q', expect: { none: true }, extras: { mine: 1 } } as unknown as Check;
		setExtra(check, 'off', true);
		setExtra(check, 'notes', 'why');
		expect(check.extras).toEqual({ mine: 1, off: true, notes: 'why' });
		setExtra(check, 'off', false);
		setExtra(check, 'notes', '');
		expect(check.extras).toEqual({ mine: 1 });
		expect(extrasOf(check).off).toBeUndefined();
	});

	it('says how long ago', () => {
		const now = 1e12;
		const minute = 60_000;
		const words = [
			0,
			minute - 1,
			minute,
			59 * minute,
			60 * minute,
			90 * minute,
			1439 * minute,
			1440 * minute,
			4320 * minute,
		].map((past) => ago(now - past, now));
		expect(words).toEqual([
			'just now',
			'just now',
			'1 min ago',
			'59 min ago',
			'1 hr ago',
			'2 hr ago',
			'24 hr ago',
			'yesterday',
			'3 days ago',
		]);
		// A clock that was put back since.
		expect(ago(now + minute, now)).toBe('just now');
	});
});

it('a failing check says why as the command line does, with names in place of ids', () => {
	const project = example('harl-quay-before');
	const failing = runChecks(project).filter((r) => !r.pass);
	expect(failing.map((r) => r.query)).toEqual(['gaze', 'in-sight']);
	const [gaze, sight] = failing.map((r) => reasonWords(project, r));
	expect(gaze).toBe('wanted Gangway crank, got Lemon crate 4 (Gangway crank: sight, 2.41 m behind Lemon crate 4)');
	// A filter that wants one of several names none of them as missing.
	expect(sight).toMatch(/\(Far cleat: tags, there at [\d.]+ m, but has none of fitting, person\)/);
});
