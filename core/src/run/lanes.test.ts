import { describe, expect, it } from 'vitest';
import { example } from '../tests/examples';
import { heldAt, lanesOf } from './lanes';
import { runThrough } from './run';

const quay = example('harl-quay');
const run = quay.runs?.find((r) => r.id === 'one-slot');
if (!run) throw new Error('no run');
const result = runThrough(quay, run);
const round = (t: number) => Number(t.toFixed(6));

describe('lanes', () => {
	it('say from when to when each object was touched, contended and was chosen; what stands at the end goes up to it', () => {
		const any = lanesOf(result, 3).find((e) => e.watch === 'slot-any');
		const port = any?.lanes.find((l) => l.object === 'cleat-port');
		expect(port?.stretches.map((s) => [s.how, round(s.from), round(s.to)])).toEqual([
			['touched', 0.2, 2.7],
			['contends', 0.4, 2.7],
			['chosen', 0.4, 1.9],
		]);
		const starboard = any?.lanes.find((l) => l.object === 'cleat-starboard');
		expect(starboard?.stretches.map((s) => [s.how, round(s.from), round(s.to)])).toEqual([
			['touched', 1.9, 3],
			['contends', 1.9, 3],
			['chosen', 1.9, 2.7],
		]);
	});

	it('mark where something was touched between two steps only', () => {
		const gull = quay.runs?.find((r) => r.id === 'gull-flies-through');
		if (!gull) throw new Error('no run');
		const lanes = lanesOf(runThrough(quay, gull), 0.5)[0]?.lanes.find((l) => l.object === 'gull-1');
		expect(lanes?.missed).toHaveLength(1);
		expect(lanes?.stretches).toEqual([]);
	});

	it('what is held at a time is the last choice up to it', () => {
		expect(heldAt(result.events, 'slot-own', 0.39).selected).toEqual([]);
		expect(heldAt(result.events, 'slot-own', 0.4).selected).toEqual(['cleat-port']);
		expect(heldAt(result.events, 'slot-own', 1.9).selected).toEqual(['cleat-starboard']);
	});
});
