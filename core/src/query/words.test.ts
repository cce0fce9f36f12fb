import { describe, expect, it } from 'vitest';
import { degrees, metres, wordsOfCondition, wordsOfLoss, wordsOfVerdict } from './words';

describe('figures', () => {
	it('carry their unit and no more digits than say something', () => {
		// Neither is a length of rounding one, nor is one length written in two ways.
		expect([8e-17, -3e-7, 0.0099999, 0.00999].map(metres)).toEqual([
			'under 0.001 mm',
			'under 0.001 mm',
			'0.01 m',
			'9.99 mm',
		]);
		expect(['0', '0.0004', '0.0042', '0.37', '1.234', '12.34', '123.4'].map((v) => metres(Number(v)))).toEqual([
			'0 m',
			'0.4 mm',
			'4.2 mm',
			'0.37 m',
			'1.23 m',
			'12.3 m',
			'123 m',
		]);
		expect([0.123, 12.34].map(degrees)).toEqual(['0.12°', '12.3°']);
	});
});

describe('a verdict in words', () => {
	const named = (_kind: string, id: string) => id.toUpperCase();
	const say = (v: object) => wordsOfVerdict({ object: 'it', ...v } as never, named);

	it('names what failed and by how much', () => {
		expect(say({ stage: 'layer', layers: ['walls'] })).toBe('on layer WALLS, not asked for');
		expect(say({ stage: 'layer', layers: ['a', 'b'] })).toBe('on layers A, B, not asked for');
		expect(say({ stage: 'tags', missing: ['crank'], forbidden: [] })).toBe('tag CRANK missing');
		expect(say({ stage: 'tags', missing: ['a', 'b'], forbidden: ['c'] })).toBe(
			'tags A, B missing; has forbidden tag C',
		);
		const wants = (any: string[], missing: string[]) =>
			wordsOfVerdict({ object: 'it', stage: 'tags', missing, forbidden: [] }, named, any);
		expect(wants(['a', 'b'], ['a', 'b'])).toBe('has none of A, B');
		expect(wants(['a', 'b'], ['c', 'a', 'b'])).toBe('has none of A, B; tag C missing');
		// One of them is there: what is missing is wanted for itself.
		expect(wants(['a', 'b'], ['b', 'c'])).toBe('tags B, C missing');
		expect(wants(['a'], ['a'])).toBe('tag A missing');
		expect(say({ stage: 'side', stance: 'friendly' })).toBe('regarded as friendly');
		expect(say({ stage: 'state', condition: { of: 'target', state: 'jammed', is: false }, value: true })).toBe(
			'needs jammed is no; it is yes',
		);
		expect(say({ stage: 'state', condition: { of: 'target', state: 'wear', above: 2 }, value: null })).toBe(
			'needs wear above 2; it is not set',
		);
		expect(say({ stage: 'role', role: 'sensor' })).toBe('only sensor shapes');
		expect(say({ stage: 'touch', margin: 0.37 })).toBe('missed by 0.37 m');
		expect(say({ stage: 'touch', margin: 0 })).toBe('the start lies in it');
		expect(say({ stage: 'touch', margin: 0.53, beyond: 0.58 })).toBe('0.58 m beyond its end');
		expect(say({ stage: 'touch' })).toBe('no shape to touch');
		expect(say({ stage: 'range', margin: 1.5 })).toBe('1.5 m out of range');
		expect(say({ stage: 'view', margin: 12 })).toBe('12° outside the view');
		expect(say({ stage: 'sight', by: 'booth', margin: 1.2 })).toBe('1.2 m behind BOOTH');
	});

	it('says which rule decided and who was taken', () => {
		expect(say({ stage: 'choice', rule: 'distance', margin: 0.4, by: 'crank' })).toBe('0.4 m farther than CRANK');
		expect(say({ stage: 'choice', rule: 'cursor', margin: 3.25, by: 'crank' })).toBe(
			'3.3 px farther from the cursor than CRANK',
		);
		expect(say({ stage: 'choice', rule: 'priority', margin: 2, by: 'crank' })).toBe(
			'priority lower by 2; taken: CRANK',
		);
		expect(say({ stage: 'choice', rule: 'listed', margin: 1, by: 'crank' })).toBe('later in the file; taken: CRANK');
		expect(say({ stage: 'choice', rule: 'cursor', by: 'crank' })).toBe('loses by cursor; taken: CRANK');
		expect(say({ stage: 'choice', rule: 'stands-for', by: 'counter' })).toBe('COUNTER answers for the same');
	});

	it('says by how much one lost without naming what was taken', () => {
		const lost = (v: object) => wordsOfLoss({ object: 'it', stage: 'choice', by: 'crank', ...v } as never);
		expect(lost({ rule: 'distance', margin: 0.4 })).toBe('0.4 m farther');
		expect(lost({ rule: 'aim', margin: 12 })).toBe('12° farther off the aim');
		expect(lost({ rule: 'direct', margin: 1 })).toBe('touched by assist only');
		expect(lost({ rule: 'cursor' })).toBe('loses by cursor');
	});

	it('says a condition whole', () => {
		expect(wordsOfCondition({ of: 'target', state: 'wear', above: 0, below: 5 })).toBe('wear above 0 and below 5');
		expect(wordsOfCondition({ of: 'scene', state: 'tide', is: true })).toBe('tide is yes');
	});
});
