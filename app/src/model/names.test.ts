import { describe, expect, it } from 'vitest';
import { namesOf } from './names';

describe('names', () => {
	it('that two have are told apart by their ids, and the id stands where there is none', () => {
		const names = namesOf([
			{ id: 'crate-1', name: 'Crate' },
			{ id: 'crate-2', name: 'Crate' },
			{ id: 'bell', name: 'Bell' },
			{ id: 'post' },
		]);
		expect([...names.values()]).toEqual(['Crate (crate-1)', 'Crate (crate-2)', 'Bell', 'post']);
	});
});
