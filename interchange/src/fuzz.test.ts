import { expect, it } from 'vitest';
import { judgeLevel } from './tests/fuzz-level';

const CASES = 1000;

it('levels, rules and traces nobody meant are refused in clean words, or make a project that is whole', async () => {
	for (let seed = 1; seed <= CASES; seed++)
		expect(await judgeLevel(seed), `npm run fuzz -- --cases 0 --levels 1 --seed ${seed}`).toBeNull();
}, 120_000);
