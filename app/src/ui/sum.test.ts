import { expect, it } from 'vitest';
import { evaluateSum } from './sum';

it('works out simple sums and refuses what is none', () => {
	expect(evaluateSum('2*0.4')).toBe(0.8);
	expect(evaluateSum(' 1/4 + 0.5 ')).toBe(0.75);
	expect(evaluateSum('-(2 - 0.5)')).toBe(-1.5);
	expect(evaluateSum('1e-3')).toBe(0.001);
	expect(evaluateSum('2,5')).toBe(2.5);
	for (const wrong of ['', 'abc', '2*', '1/0', '(1', '1 2', 'process.exit()']) expect(evaluateSum(wrong)).toBeNull();
});
