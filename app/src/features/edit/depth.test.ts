/** Depths of flat scenes: nothing that is drawn, copied or put into a pile ties with what it lies on, whatever the slack. */
import { Answerer, buildWorld, checkProject, formatProblem, type Project } from '@frelk/core';
import { describe, expect, it } from 'vitest';
import { createBench } from '../../model/store';
import { commandsFor } from '../commands/commands';
import { addShape, dropShape } from './acts';
import { depthStep, placeInPile, topDepth } from './depth';

function flat(tieSlack: number | undefined, more: object = {}, ...depths: number[]): Project {
	const reading = checkProject({
		format: 'frelk/1',
		id: 'desk',
		name: 'Desk',
		scene: {
			kind: 'flat',
			...(tieSlack === undefined ? {} : { tieSlack }),
			layers: [{ id: 'papers' }],
			tags: [],
			objects: depths.map((z, i) => ({
				id: `paper-${i}`,
				position: [0, 0, z],
				layer: 'papers',
				shapes: [{ id: 'rect', kind: 'rect', size: [2, 2] }],
			})),
			cameras: [{ id: 'above', position: [0, 0, 50], projection: 'orthographic', height: 4 }],
		},
		queries: [{ id: 'pick', kind: 'pick', camera: 'above', viewport: [40, 40], ...more }],
	});
	if (!reading.ok) throw new Error(reading.problems.map(formatProblem).join('\n'));
	return reading.project;
}

const status = (project: Project) => {
	const world = buildWorld(project);
	return new Answerer(world).explain(world.queries[0] as never).status;
};

describe('what is new in a flat scene', () => {
	const slacks = [undefined, 0, 0.001, 0.01, 0.3, 5];

	it('lies on top by more than any slack', () => {
		for (const slack of slacks) {
			const store = createBench('k', flat(slack, {}, 0, 0.5));
			addShape(store, 'rect', {
				at: [0, 0, topDepth(store.getState().project, store.getState().derived.world)],
				yaw: 0,
				size: [1, 1, 0],
			});
			expect(status(store.getState().project), `slack ${slack}`).toBe('selected');
			dropShape(store, 'circle');
			const depths = store.getState().project.scene.objects.map((o) => o.position?.[2] ?? 0);
			expect((depths.at(-1) as number) - (depths.at(-2) as number)).toBeGreaterThan(slack ?? 0.001);
		}
	});

	it('is a copy that does not tie with what it was copied from', () => {
		for (const slack of slacks) {
			const store = createBench('k', flat(slack, {}, 0));
			store.getState().pick('paper-0');
			const duplicate = commandsFor(store.getState().project).find((c) => c.id === 'duplicate');
			duplicate?.run(store);
			expect(store.getState().project.scene.objects).toHaveLength(2);
			expect(status(store.getState().project), `slack ${slack}`).toBe('selected');
		}
	});

	it('counts what a rule takes for equal, and what hangs on others', () => {
		expect(depthStep(flat(undefined))).toBe(0.002);
		expect(depthStep(flat(0))).toBe(0.001);
		expect(depthStep(flat(0.01, { choose: { by: [{ rule: 'distance', slack: 0.2 }] } }))).toBe(0.4);
		expect(depthStep(flat(0.01, { choose: { by: [{ rule: 'priority', slack: 3 }] } }))).toBe(0.02);
		const p = flat(undefined, {}, 1, 2);
		(p.scene.objects[1] as { parent?: string }).parent = 'paper-0';
		expect(topDepth(p, buildWorld(p))).toBe(3.002);
		expect(topDepth(flat(1), buildWorld(flat(1)))).toBe(0);
	});
});

describe('a place in a pile', () => {
	const at = (depths: number[], k: number, step = 0.002) =>
		placeInPile(
			depths.map((depth, i) => ({ id: `o${i}`, depth })),
			k,
			0.01,
			step,
		);

	it('is halfway where there is room', () => {
		expect(at([3, 1], 1)).toEqual({ depth: 2, lift: null });
		expect(at([0.004, 0], 1)).toEqual({ depth: 0.002, lift: null });
	});

	it('is a step beyond the outermost, and more than the slack', () => {
		expect(at([], 0)).toEqual({ depth: 0, lift: null });
		expect(at([1], 0)).toEqual({ depth: 1.01, lift: null });
		expect(at([1], 1)).toEqual({ depth: 0.99, lift: null });
		expect(at([1], 0, 0.5)).toEqual({ depth: 1.5, lift: null });
	});

	it('lifts all above it where there is none', () => {
		expect(at([5, 1, 1], 2)).toEqual({ depth: 1.002, lift: { ids: ['o0', 'o1'], by: 0.004 } });
		expect(at([1.003, 1], 1)).toEqual({ depth: 1.002, lift: { ids: ['o0'], by: 0.001 } });
	});
});
