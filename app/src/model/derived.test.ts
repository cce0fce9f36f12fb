import { Answerer, buildWorld, type Project, type Verdict } from '@frelk/core';
import { projectAt, recordInto } from '@frelk/core/editing';
import { randomProject } from '@frelk/core/tests/project';
import { dice } from '@frelk/core/tests/random';
import { create as produce } from 'mutative';
import { describe, expect, it } from 'vitest';
import { cargoShed } from '../data/cargo-shed';
import { chainsOf, createDeriver, movesBetween } from './derived';

const plainly = (v: Verdict) => ({
	...v,
	...(v.margin === undefined ? {} : { margin: v.margin }),
	...(v.beyond === undefined ? {} : { beyond: v.beyond }),
});

describe('answers kept between edits', () => {
	it('are those of a world built afresh, whatever was edited before', () => {
		for (let seed = 0; seed < 40; seed++) {
			const d = dice(seed);
			const derive = createDeriver();
			let project: Project = randomProject(seed);
			const moments = [null, ...(project.moments ?? []).map((m) => m.id)];
			for (let step = 0; step < 12; step++) {
				const value = d.between(-2, 2);
				const at = d.whole(0, 50);
				const what = d.whole(0, 4);
				const where = d.of(moments);
				const recipe = (draft: Project) => {
					const object = draft.scene.objects[at % Math.max(1, draft.scene.objects.length)];
					if (!object) return;
					if (what === 0) object.position = [value, draft.scene.kind === 'flat' ? value : 0, value];
					if (what === 1) object.rotation = draft.scene.kind === 'flat' ? [0, 0, 40 * value] : [40 * value, 0, 0];
					if (what === 2) object.active = value > 0;
					if (what === 3) for (const q of draft.queries) if (q.kind === 'pick') q.cursor = [100 + 30 * value, 90];
					if (what === 4) object.priority = Math.round(value);
				};
				// Half of the edits are made at a moment and recorded in it.
				const plain = produce(project, recipe);
				project =
					where === null ? plain : recordInto(project, where, plain, produce(projectAt(project, where), recipe));
				const moment = d.of(moments);
				const query = d.of([null, ...project.queries.map((q) => q.id)]);
				const kept = derive(project, moment, query);
				const world = buildWorld(project, moment);
				for (const q of world.queries) {
					const fresh = q.id === query ? new Answerer(world).explain(q) : new Answerer(world).winner(q);
					const got = kept.byQuery.get(q.id);
					expect(got?.status).toBe(fresh.status);
					expect(got?.selected).toEqual(fresh.selected);
					expect(got?.tied).toEqual(fresh.tied);
					// A miss is measured when its margin is read.
					if (q.id === query) expect(got?.verdicts.map(plainly)).toEqual(fresh.verdicts);
				}
			}
		}
	});

	it('are one value with a revision of its own, new when anything of it is', () => {
		const project = cargoShed(200);
		const derive = createDeriver();
		const query = project.queries[0]!.id;
		const first = derive(project, null, query);
		expect(derive(project, null, query)).toBe(first);
		const unhanded = derive(project, null, null);
		expect(unhanded.revision).toBeGreaterThan(first.revision);
		expect([unhanded.current, unhanded.touched]).toEqual([null, []]);
		expect(unhanded.movement).toBe(first.movement);
		// Another bench's answers are its own, also where the things have the same names.
		const other = createDeriver()(
			produce(project, (draft) => void (draft.queries[0]!.enabled = false)),
			null,
			query,
		);
		expect(other.current?.status).toBe('off');
		expect(derive(project, null, query).current?.status).toBe(first.current?.status);
	});

	it('leave the world alone when a query changes, and move it when things only move', () => {
		const project = cargoShed(200);
		const derive = createDeriver();
		const built = derive(project, null, null).built;
		const asked = produce(project, (draft) => {
			const q = draft.queries.find((entry) => entry.kind === 'pick');
			if (q?.kind === 'pick') q.cursor = [10, 10];
		});
		expect(derive(asked, null, null).built === built).toBe(true);
		const moved = produce(asked, (draft) => void (draft.scene.objects[6]!.position = [1, 0, 1]));
		expect(derive(moved, null, null).built === built).toBe(true);
		const resized = produce(moved, (draft) => void (draft.scene.objects[6]!.scale = [2, 2, 2]));
		expect(derive(resized, null, null).built === built).toBe(false);
	});

	it('move things in the world there is, also where the move is recorded in a moment', () => {
		const project: Project = {
			...cargoShed(200),
			moments: [{ id: 'm', objects: { tallyman: { states: { 'hands-full': true } } }, states: { dark: true } }],
		};
		const derive = createDeriver();
		const { built, movement } = derive(project, 'm', null);
		const move = (draft: Project) => void (draft.scene.objects[6]!.position = [1, 0, 1]);
		const moved = recordInto(project, 'm', produce(project, move), produce(projectAt(project, 'm'), move));
		expect(moved.scene === project.scene).toBe(true);
		expect(derive(moved, 'm', null).built === built).toBe(true);
		expect(derive(moved, 'm', null).movement).toBeGreaterThan(movement);
		const dark = produce(moved, (draft) => void (draft.moments![0]!.states = { dark: false }));
		expect(derive(dark, 'm', null).built === built).toBe(false);
	});

	it('know what a query hangs on and what has only moved', () => {
		expect(
			chainsOf({
				id: 'q',
				kind: 'overlap',
				at: { hitOf: 'a', off: 0.1 },
				range: { from: { hitOf: 'b' } },
				shape: { kind: 'sphere', radius: 1 },
			}).sort(),
		).toEqual(['a', 'b']);
		// What only looks like one, in extras, is none.
		expect(
			chainsOf({ id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [1, 0, 0] }, extras: { hitOf: 'a' } }),
		).toEqual([]);
		const a = { id: 'a', layer: 'l' };
		expect(movesBetween([a], [{ ...a, position: [1, 0, 0] }])?.size).toBe(1);
		expect(movesBetween([a], [{ ...a, layer: 'm' }])).toBeNull();
		expect(movesBetween([a], [])).toBeNull();
	});
});
