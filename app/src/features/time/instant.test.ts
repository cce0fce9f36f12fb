import { checkProject, type Project, type Run } from '@frelk/core';
import { ahead, box, object, project } from '@frelk/core/tests/scene';
import { describe, expect, it } from 'vitest';
import { createBench } from '../../model/store';
import { createInstant } from './instant';

function open(run: Partial<Run> = {}) {
	const made = project(
		[object('man', [1, 0, 0], [box([1, 1, 1])]), object('cup', [0, 0, -3], [box([0.4, 0.4, 0.4])])],
		[ahead({ asker: 'man' })],
	);
	const p: Project = { ...made, runs: [{ id: 'r', duration: 2, step: 0.5, ...run }] };
	const main = createBench('p', p);
	const instant = createInstant(main, p, p.runs?.[0] as Run);
	const keys = (id: string) => main.getState().project.runs?.[0]?.tracks?.find((t) => t.object === id)?.keys;
	const move = (x: number) =>
		instant.bench.getState().edit('Move', (d) => {
			const man = d.scene.objects[0];
			if (man) man.position = [x, 0, 0];
		});
	const valid = () => {
		const checked = checkProject(JSON.parse(JSON.stringify(main.getState().project)));
		expect(checked.ok ? [] : checked.problems).toEqual([]);
	};
	return { main, instant, keys, move, valid };
}

describe('a bench at an instant', () => {
	it('answers as the scene stands there', () => {
		const { instant } = open({
			tracks: [
				{
					object: 'cup',
					keys: [
						{ t: 0, position: [0, 0, -3] },
						{ t: 2, position: [9, 0, -3] },
					],
				},
			],
		});
		expect(instant.bench.getState().derived.current?.selected[0]?.object).toBe('cup');
		instant.to(1);
		expect(instant.bench.getState().derived.current?.status).toBe('none');
		instant.to(0);
		expect(instant.bench.getState().derived.current?.selected[0]?.object).toBe('cup');
		// Things move in the world there is: none is built for an instant.
		const { built } = instant.bench.getState().derived;
		instant.to(0.75);
		expect(instant.bench.getState().derived.built).toBe(built);
	});

	it('turns an edit into a key there, one step of the history, and leaves the scene as it was laid out', () => {
		const { main, instant, keys, move, valid } = open();
		instant.to(1.5);
		move(4);
		expect(keys('man')).toEqual([{ t: 1.5, position: [4, 0, 0] }]);
		expect(main.getState().project.scene.objects[0]?.position).toEqual([1, 0, 0]);
		expect(main.getState().past).toHaveLength(1);
		expect(instant.bench.getState().project.scene.objects[0]?.position).toEqual([4, 0, 0]);
		valid();
		main.getState().undo();
		expect(keys('man')).toBeUndefined();
	});

	it('makes one key of a gesture, none of one that is cancelled, and keeps what is held while time is changed', () => {
		const { main, instant, keys, move } = open();
		const { beginGesture, endGesture, cancelGesture } = instant.bench.getState();
		beginGesture('Move');
		move(2);
		move(3);
		expect(keys('man')).toBeUndefined();
		expect(instant.bench.getState().project.scene.objects[0]?.position).toEqual([3, 0, 0]);
		endGesture();
		expect(keys('man')).toEqual([{ t: 0, position: [3, 0, 0] }]);
		expect(main.getState().past).toHaveLength(1);
		beginGesture('Move');
		move(9);
		cancelGesture();
		expect(keys('man')).toEqual([{ t: 0, position: [3, 0, 0] }]);
		expect(instant.bench.getState().project.scene.objects[0]?.position).toEqual([3, 0, 0]);
	});

	it('writes what no key can hold into the project', () => {
		const { main, instant, keys } = open();
		instant.to(1);
		instant.bench.getState().edit('Longer', (d) => void Object.assign(d.queries[0] as object, { length: 2 }));
		expect(main.getState().project.queries[0]).toMatchObject({ length: 2 });
		expect(keys('man')).toBeUndefined();
		expect(instant.bench.getState().derived.current?.status).toBe('none');
	});

	it('says why an edit cannot be, and stands as before', () => {
		const { main, instant } = open();
		instant.bench
			.getState()
			.edit('Wrong', (d) => void Object.assign(d.scene.objects[0] as object, { position: [1e9, 0, 0] }));
		expect(main.getState().refusal).toContain('position');
		expect(main.getState().past).toHaveLength(0);
		expect(instant.bench.getState().project.scene.objects[0]?.position).toEqual([1, 0, 0]);
	});

	it('records what is done while time runs: from where it stood, held on, as few keys in one step', () => {
		const { main, instant, keys, move, valid } = open({ step: 0.05 });
		instant.record();
		expect(instant.recording()).toBe(true);
		for (let i = 1; i <= 20; i++) {
			instant.to(i * 0.05);
			move(1 + i * 0.1);
			// What is held stays in the hand while the rest of the scene goes on.
			expect(instant.bench.getState().project.scene.objects[0]?.position?.[0]).toBeCloseTo(1 + i * 0.1, 9);
		}
		instant.to(1.5);
		expect(main.getState().past).toHaveLength(0);
		expect(instant.stop()).toBe(true);
		expect(main.getState().past).toHaveLength(1);
		const made = keys('man') ?? [];
		expect(made[0]).toMatchObject({ position: [1.1, 0, 0] });
		expect(made.length).toBeLessThanOrEqual(3);
		expect(made.at(-1)).toMatchObject({ t: 1.5, position: [3, 0, 0] });
		valid();
		expect(instant.recording()).toBe(false);
	});

	it('writes what no key can hold at once, also while it records', () => {
		const { main, instant, move, keys } = open();
		instant.record();
		instant.to(0.5);
		instant.bench.getState().edit('Name', (d) => void Object.assign(d.scene.objects[1] as object, { name: 'Mug' }));
		expect(main.getState().project.scene.objects[1]?.name).toBe('Mug');
		move(2);
		expect(main.getState().past).toHaveLength(1);
		instant.stop();
		expect(main.getState().project.scene.objects[1]?.name).toBe('Mug');
		expect(main.getState().project.scene.objects[0]?.position).toEqual([1, 0, 0]);
		expect(keys('man')?.at(-1)).toMatchObject({ t: 0.5, position: [2, 0, 0] });
	});

	it('records nothing where nothing was done', () => {
		const { main, instant } = open();
		instant.record();
		instant.to(1);
		expect(instant.stop()).toBe(false);
		expect(main.getState().past).toHaveLength(0);
	});

	it('shows a key while it is pulled, and writes it when it is let go', () => {
		const { main, instant, keys } = open({
			tracks: [
				{
					object: 'man',
					keys: [
						{ t: 0, position: [1, 0, 0] },
						{ t: 2, position: [3, 0, 0] },
					],
				},
			],
		});
		instant.to(1);
		const { beginGesture, endGesture, edit } = instant.bench.getState();
		beginGesture('Place at 2 s');
		edit('Place at 2 s', (d) => {
			const key = d.runs?.[0]?.tracks?.[0]?.keys[1];
			if (key) key.position = [5, 0, 0];
		});
		expect(instant.bench.getState().project.scene.objects[0]?.position).toEqual([3, 0, 0]);
		expect(keys('man')?.[1]?.position).toEqual([3, 0, 0]);
		endGesture();
		expect(keys('man')).toEqual([
			{ t: 0, position: [1, 0, 0] },
			{ t: 2, position: [5, 0, 0] },
		]);
		expect(main.getState().past).toHaveLength(1);
	});
});
