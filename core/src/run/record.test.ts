import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkProject } from '../project/read';
import type { Project, Run } from '../project/schema';
import { runs } from '../tests/runs';
import { ahead, box, object, project } from '../tests/scene';
import { RunInstants } from './instants';
import {
	beyondKeys,
	keyChanges,
	type Recorded,
	type Sample,
	thinned,
	withKeyAt,
	withKeys,
	withoutKey,
	withRecording,
} from './record';
import { runThrough, type StateAtTime } from './run';

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value));
const base = (run: Partial<Run> = {}): Project => {
	const p = project(
		[
			object('man', [1, 0, 0], [box([1, 1, 1])]),
			object('cup', [0, 0, -3], [box([0.4, 0.4, 0.4])], { action: 'take', states: { full: true } }),
		],
		[ahead({ asker: 'man' }), { id: 'pick', kind: 'pick', camera: 'eye', viewport: [100, 100], cursor: [50, 50] }],
	);
	return { ...p, runs: [{ id: 'r', duration: 2, step: 0.5, ...run }] };
};
const runOf = (p: Project): Run => p.runs?.[0] as Run;
const valid = (p: Project) => {
	const checked = checkProject(copy(p));
	expect(checked.ok ? [] : checked.problems).toEqual([]);
	return p;
};

describe('an instant', () => {
	it('is the scene by its tracks, and what does not differ is the very same', () => {
		const p = base({
			tracks: [
				{
					object: 'man',
					keys: [
						{ t: 0, position: [1, 0, 0] },
						{ t: 2, position: [3, 0, 0] },
					],
				},
				{ query: 'pick', keys: [{ t: 1, cursor: [10, 20] }] },
				{ scene: true, keys: [{ t: 1, states: { tide: true } }] },
			],
		});
		const instants = new RunInstants(p, runOf(p));
		const at = (t: number) => instants.at(t);
		expect(at(0.5).scene.objects[0]?.position).toEqual([1.5, 0, 0]);
		expect(at(0.5).scene.objects[1]).toBe(at(1.5).scene.objects[1]);
		expect(at(0.99).queries[1]).toMatchObject({ cursor: [50, 50] });
		expect(at(1).queries[1]).toMatchObject({ cursor: [10, 20] });
		expect(at(0.99).scene.states ?? {}).toEqual({});
		expect(at(1).scene.states).toEqual({ tide: true });
		expect(at(0.25).scene.objects[0]?.position).toEqual([1.25, 0, 0]);
		// What is made of a scene but for its moving things need not be made anew.
		const [one, other] = [at(0.25), at(0.75)];
		for (const field of ['cameras', 'states', 'layers'] as const) expect(one.scene[field]).toBe(other.scene[field]);
		expect(one.queries).toBe(other.queries);
		expect(one.scene.objects).not.toBe(other.scene.objects);
	});

	it('has what effects set from the step after the press on', () => {
		const p: Project = {
			...base({ watch: [{ query: 'q' }], presses: [{ watch: 'q', at: 0.5 }] }),
			effects: [{ action: 'take', do: [{ of: 'target', carriedBy: 'asker', at: [0, 1, 0] }] }],
		};
		const standing: StateAtTime[] = [];
		runThrough(p, runOf(p), { standing: (s) => standing.push(s) });
		expect(standing.map((s) => s.from)).toEqual([2]);
		const instants = new RunInstants(p, runOf(p), standing);
		const cup = (t: number) => instants.at(t).scene.objects[1];
		expect(cup(0.5)?.parent).toBeUndefined();
		expect(cup(0.99)?.parent).toBeUndefined();
		expect(cup(1)).toMatchObject({ parent: 'man', position: [0, 1, 0] });
		// Past the end the last step stands.
		expect(cup(9)).toMatchObject({ parent: 'man' });
		expect(cup(0)?.parent).toBeUndefined();
	});
});

describe('an edit at an instant', () => {
	const p = base();
	const edited = (recipe: (draft: Project) => void): Project => {
		const next = copy(p);
		recipe(next);
		// Entries that are as they were are the very same, as an edit leaves them.
		next.scene.objects = next.scene.objects.map((o, i) =>
			JSON.stringify(o) === JSON.stringify(p.scene.objects[i]) ? (p.scene.objects[i] as typeof o) : o,
		);
		return next;
	};

	it('is what keys can hold of it: places, states, what it hangs on, cursors', () => {
		const next = edited((d) => {
			const [man, cup] = d.scene.objects;
			if (!man || !cup) throw new Error('no scene');
			man.position = [2, 0, 0];
			cup.states = { full: false, cold: 3 };
			cup.parent = 'man';
			cup.shapes = cup.shapes?.map((s) => ({ ...s, enabled: false }));
			Object.assign(d.queries[1] as object, { cursor: [1, 2], enabled: false });
			Object.assign(d.scene.cameras[0] as object, { position: [0, 2, 0] });
			d.scene.states = { tide: true };
		});
		expect(keyChanges(p, next)).toEqual([
			{ thing: { object: 'man' }, values: { position: [2, 0, 0] } },
			{
				thing: { object: 'cup' },
				values: {
					parent: 'man',
					position: [0, 0, -3],
					rotation: [0, 0, 0],
					states: { full: false, cold: 3 },
					shapes: { box: { enabled: false } },
				},
			},
			{ thing: { camera: 'eye' }, values: { position: [0, 2, 0] } },
			{ thing: { query: 'pick' }, values: { cursor: [1, 2], enabled: false } },
			{ thing: { scene: true }, values: { states: { tide: true } } },
		]);
		// None of it changes the project itself.
		expect(beyondKeys(p, p, next)).toBe(p);
	});

	it('says of a field that is gone what it is without', () => {
		const tagged = {
			...p,
			scene: { ...p.scene, objects: p.scene.objects.map((o) => ({ ...o, tags: ['bird'], active: false })) },
		};
		const next = copy(tagged);
		const { tags: _, active: __, ...rest } = next.scene.objects[0] as (typeof next.scene.objects)[number];
		next.scene.objects[0] = rest as (typeof next.scene.objects)[number];
		expect(keyChanges(tagged, next)[0]?.values).toEqual({ tags: [], active: true });
	});

	it('goes into the project where no key can hold it: sizes, names, new things, the words of a query', () => {
		const next = edited((d) => {
			const [man, cup] = d.scene.objects;
			if (!man || !cup) throw new Error('no scene');
			man.position = [2, 0, 0];
			man.name = 'Walker';
			cup.shapes = [box([1, 1, 1], { enabled: false })];
			d.scene.objects.push(object('new', [9, 0, 0], [box([1, 1, 1])]));
			Object.assign(d.queries[0] as object, { length: 7 });
			Object.assign(d.queries[1] as object, { length: 3, cursor: [1, 2] });
		});
		const out = valid(beyondKeys(p, p, next));
		expect(out.scene.objects[0]).toMatchObject({ name: 'Walker', position: [1, 0, 0] });
		expect(out.scene.objects[1]?.shapes).toEqual([box([1, 1, 1])]);
		expect(out.scene.objects[2]?.id).toBe('new');
		expect(out.queries[0]).toMatchObject({ length: 7 });
		expect(out.queries[1]).toMatchObject({ length: 3, cursor: [50, 50] });
		expect(keyChanges(p, next).map((c) => c.thing)).toEqual([{ object: 'man' }, { object: 'cup' }, { query: 'pick' }]);
	});

	it('takes away what is gone, and leaves what the project says where another was seen', () => {
		const moved = edited((d) => void Object.assign(d.scene.objects[0] as object, { position: [5, 0, 0] }));
		const next = { ...moved, scene: { ...moved.scene, objects: moved.scene.objects.slice(0, 1) } };
		const out = beyondKeys(p, moved, next);
		expect(out.scene.objects).toEqual([p.scene.objects[0]]);
	});
});

describe('keys', () => {
	it('are put in their order, joined where there is one, moved and taken out', () => {
		let run = withKeys(runOf(base()), 1, [
			{ thing: { object: 'man' }, values: { position: [1, 0, 0], states: { a: true } } },
		]);
		run = withKeys(run, 0.5, [{ thing: { object: 'man' }, values: { position: [2, 0, 0] } }]);
		run = withKeys(run, 1, [{ thing: { object: 'man' }, values: { states: { b: 2 }, rotation: [9, 0, 0] } }]);
		expect(run.tracks).toEqual([
			{
				object: 'man',
				keys: [
					{ t: 0.5, position: [2, 0, 0] },
					{ t: 1, position: [1, 0, 0], rotation: [9, 0, 0], states: { a: true, b: 2 } },
				],
			},
		]);
		run = withKeyAt(run, { object: 'man' }, 0.5, 1.5);
		expect(run.tracks?.[0]?.keys.map((k) => k.t)).toEqual([1, 1.5]);
		// One that comes to lie on another takes its place.
		run = withKeyAt(run, { object: 'man' }, 1.5, 1);
		expect(run.tracks?.[0]?.keys).toEqual([{ t: 1, position: [2, 0, 0] }]);
		expect(withKeyAt(run, { object: 'cup' }, 1, 2)).toBe(run);
		expect(withoutKey(run, { object: 'man' }, 2).tracks?.[0]?.keys).toHaveLength(1);
		expect(withoutKey(run, { object: 'man' }, 1)).not.toHaveProperty('tracks');
	});
});

describe('what was recorded', () => {
	const line = (field: Recorded, samples: Sample[], t: number): number[] => {
		const run = withRecording(runOf(base({ duration: 99 })), [
			{ thing: field === 'cursor' ? { query: 'pick' } : { object: 'man' }, field, samples },
		]);
		const p = { ...base(), runs: [run] };
		const there = new RunInstants(valid(p), run).at(t);
		const thing = field === 'cursor' ? there.queries[1] : there.scene.objects[0];
		return (thing as unknown as Record<string, number[]>)[field] as number[];
	};

	it('is said again by few keys, to within 5 mm, half a degree and a pixel', () => {
		const least = { position: 0.005, rotation: 0.5, cursor: 1 };
		fc.assert(
			fc.property(
				fc.constantFrom<Recorded>('position', 'rotation', 'cursor'),
				fc.array(
					fc.tuple(
						...([0, 1, 2].map(() => fc.integer({ min: -40, max: 40 })) as [
							fc.Arbitrary<number>,
							fc.Arbitrary<number>,
							fc.Arbitrary<number>,
						]),
					),
					{
						minLength: 1,
						maxLength: 60,
					},
				),
				(field, steps) => {
					const unit = { position: 0.01, rotation: 3, cursor: 2 }[field];
					const at = [0, 0, 0];
					const samples = steps.map((step, i): Sample => {
						for (const k of [0, 1, 2]) at[k] = at[k] + unit * step[k];
						return { t: i * 0.1, value: field === 'cursor' ? [at[0], at[1]] : [...at] };
					});
					for (const { t, value } of samples) {
						const said = line(field, samples, t);
						const d = said.map((v, k) => {
							const by = v - value[k];
							return field === 'rotation' ? ((((by + 180) % 360) + 360) % 360) - 180 : by;
						});
						const off = field === 'rotation' ? Math.max(...d.map(Math.abs)) : Math.hypot(...d);
						expect(off).toBeLessThanOrEqual(least[field] + 1e-6);
					}
				},
			),
			{ numRuns: runs(120) },
		);
	});

	it('straight on is two keys, and a corner of just more than what may differ is a third', () => {
		const bent = (by: number) =>
			thinned('position', [
				{ t: 0, value: [0, 0, 0] },
				{ t: 1, value: [1, by, 0] },
				{ t: 2, value: [2, 0, 0] },
			]).length;
		expect(bent(0)).toBe(2);
		expect(bent(0.005)).toBe(2);
		expect(bent(0.00501)).toBe(3);
		const turn = (middle: number) =>
			thinned('rotation', [
				{ t: 0, value: [170, 0, 0] },
				{ t: 1, value: [middle, 0, 0] },
				{ t: 2, value: [-170, 0, 0] },
			]).length;
		// The short way from 170° to −170° goes over 180°.
		expect(turn(180)).toBe(2);
		expect(turn(180.5)).toBe(2);
		expect(turn(179.4)).toBe(3);
		expect(turn(0)).toBe(3);
	});

	it('takes the place of what the track gave of that field in that time, and of nothing else', () => {
		const run: Run = {
			...runOf(base()),
			tracks: [
				{
					object: 'man',
					keys: [
						{ t: 0, position: [0, 0, 0] },
						{ t: 1, position: [1, 0, 0], states: { wet: true } },
						{ t: 1.5, position: [2, 0, 0] },
						{ t: 3, position: [3, 0, 0] },
					],
				},
			],
		};
		const samples = [
			{ t: 0.5, value: [5, 0, 0] },
			{ t: 2, value: [6, 0, 0] },
		];
		expect(withRecording(run, [{ thing: { object: 'man' }, field: 'position', samples }]).tracks?.[0]?.keys).toEqual([
			{ t: 0, position: [0, 0, 0] },
			{ t: 0.5, position: [5, 0, 0] },
			{ t: 1, states: { wet: true } },
			{ t: 2, position: [6, 0, 0] },
			{ t: 3, position: [3, 0, 0] },
		]);
		expect(withRecording(run, [{ thing: { object: 'man' }, field: 'position', samples: [] }])).toBe(run);
	});
});
