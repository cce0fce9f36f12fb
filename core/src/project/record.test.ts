import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { example } from '../tests/examples';
import { randomProject } from '../tests/project';
import { type Dice, dice } from '../tests/random';
import { runs } from '../tests/runs';
import { checkProject } from './read';
import { differencesOf, projectAt, recordInto, removeDifference } from './record';
import type { Project } from './schema';

const quay = () => example('harl-quay');
const copy = (p: Project): Project => JSON.parse(JSON.stringify(p));

function record(project: Project, moment: string, recipe: (p: Project) => void): Project {
	const plain = copy(project);
	recipe(plain);
	const seen = copy(projectAt(project, moment));
	recipe(seen);
	return recordInto(project, moment, plain, seen);
}

/** A few edits of the kind a hand makes. */
function doSomething(d: Dice): (p: Project) => void {
	const index = d.whole(0, 1000);
	const value = d.between(-3, 3);
	const what = d.whole(0, 7);
	return (p) => {
		const object = p.scene.objects[index % Math.max(1, p.scene.objects.length)];
		if (!object) return;
		if (what === 0) object.position = [value, 0, value];
		if (what === 1) object.active = !(object.active ?? true);
		if (what === 2) object.states = { ...object.states, jammed: value > 0 };
		if (what === 3) object.prompt = `Do it ${value}`;
		if (what === 4) delete object.prompt;
		if (what === 5 && object.shapes?.[0]) object.shapes[0].enabled = !(object.shapes[0].enabled ?? true);
		if (what === 6) object.priority = Math.round(value);
		if (what === 7) for (const q of p.queries) if (q.kind === 'pick') q.cursor = [100 + value, 100];
	};
}

describe('recording into a moment', () => {
	it('changes the moment and leaves the scene as it was laid out', () => {
		const project = { ...quay() };
		const moment = project.moments?.[0]?.id ?? '';
		const next = record(project, moment, (p) => {
			const crank = p.scene.objects.find((o) => o.id === 'crank');
			if (crank) crank.position = [9, 0, 9];
		});
		expect(next.scene).toEqual(project.scene);
		expect(next.moments?.find((m) => m.id === moment)?.objects?.crank?.position).toEqual([9, 0, 9]);
		expect(differencesOf(next, moment).some((d) => d.id === 'crank' && d.field === 'position')).toBe(true);
	});

	it('drops what is put back to what it is on', () => {
		const project = quay();
		const moment = project.moments?.[0]?.id ?? '';
		const before = projectAt(project, moment).scene.objects.find((o) => o.id === 'booth')?.position ?? [0, 0, 0];
		const move = (to: [number, number, number]) => (p: Project) => {
			const booth = p.scene.objects.find((o) => o.id === 'booth');
			if (booth) booth.position = to;
		};
		const there = record(project, moment, move([5, 0, 5]));
		const back = record(there, moment, move([...before] as [number, number, number]));
		expect(differencesOf(back, moment).length).toBe(differencesOf(project, moment).length);
	});

	it('sends what a moment cannot hold to the scene', () => {
		const project = quay();
		const moment = project.moments?.[0]?.id ?? '';
		const next = record(project, moment, (p) => {
			const crank = p.scene.objects.find((o) => o.id === 'crank');
			if (crank) crank.name = 'Windlass';
		});
		expect(next.scene.objects.find((o) => o.id === 'crank')?.name).toBe('Windlass');
		expect(next.moments).toEqual(project.moments);
	});

	it('shows at the moment exactly what was done, in any project', () => {
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
				const project = randomProject(seed);
				const moment = project.moments?.at(-1)?.id;
				if (moment === undefined) return;
				const recipe = doSomething(dice(seed));
				const seen = copy(projectAt(project, moment));
				recipe(seen);
				const next = record(project, moment, recipe);
				const checked = checkProject(next);
				expect(checked.ok ? [] : checked.problems).toEqual([]);
				const at = projectAt(next, moment);
				for (const [i, want] of seen.scene.objects.entries()) {
					const got = at.scene.objects[i];
					expect(got?.position ?? [0, 0, 0]).toEqual(want.position ?? [0, 0, 0]);
					expect(got?.active ?? true).toBe(want.active ?? true);
					expect(got?.prompt).toBe(want.prompt);
					expect(got?.priority ?? 0).toBe(want.priority ?? 0);
					expect(got?.states ?? {}).toEqual(want.states ?? {});
					expect((got?.shapes ?? []).map((s) => s.enabled ?? true)).toEqual(
						(want.shapes ?? []).map((s) => s.enabled ?? true),
					);
				}
				expect(at.queries.map((q) => (q.kind === 'pick' ? q.cursor : 0))).toEqual(
					seen.queries.map((q) => (q.kind === 'pick' ? q.cursor : 0)),
				);
				// Every difference can be taken out again, and then the moment is what it is on.
				for (const d of differencesOf(next, moment)) removeDifference(next, moment, d);
				expect(differencesOf(next, moment)).toEqual([]);
			}),
			{ numRuns: runs(300) },
		);
	});
});
