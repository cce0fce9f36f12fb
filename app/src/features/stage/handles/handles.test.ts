import {
	Answerer,
	buildWorld,
	checkProject,
	isNote,
	type Project,
	placementOf,
	type Query,
	type World,
} from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { framing, toPixels, viewOfPose } from '../../../drawing/view';
import { moverOf, walkStep } from '../eye/walking';
import { geometryOf } from '../overlay/geometry';
import { reasonOf } from '../overlay/reason';
import { pileAt } from '../pile/pile';
import { cameraHandles } from './camera-handles';
import { dragHandle, type Handle, stepHandle, valueWords } from './handles';
import { objectHandles, placeAt, stepOf } from './object-handles';
import { queryHandles } from './query-handles';

const copy = (p: Project): Project => JSON.parse(JSON.stringify(p));
const valid = (p: Project) => {
	const checked = checkProject(p);
	expect(checked.ok ? [] : checked.problems).toEqual([]);
};
const handlesFor = (world: World, query: Query): Handle[] => {
	const asker = query.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
	const placement = placementOf({ world, query, asker, hitOf: new Answerer(world).hitOf });
	return isNote(placement) ? [] : queryHandles(world, query, placement);
};

const EXAMPLES = ['harl-quay', 'pursers-desk', 'deck-from-above'];

describe('handles', () => {
	it('of every object and query change the project to a valid one, by drag and by key', () => {
		for (const name of EXAMPLES) {
			const project = example(name);
			const world = buildWorld(project);
			const view = viewOfPose(
				{ ...framing(world), mode: 'free', yaw: 25, pitch: world.flat ? 20 : -35 },
				900,
				600,
				world.flat,
			);
			const all = [
				...world.objects.flatMap((o) => objectHandles(world, o)),
				...world.queries.flatMap((q) => handlesFor(world, q)),
				...[...world.cameras.values()].flatMap((c) => cameraHandles(world, c)),
			];
			expect(all.length).toBeGreaterThan(20);
			for (const handle of all) {
				const p = toPixels(view, handle.at);
				for (const recipe of [
					p && dragHandle(handle, view, [p[0] + 23, p[1] - 17], false),
					stepHandle(handle, 'ArrowUp', 1),
					stepHandle(handle, 'ArrowLeft', 10),
				]) {
					if (!recipe) continue;
					const next = copy(project);
					recipe(next);
					valid(next);
				}
				expect(stepHandle(handle, 'x', 1)).toBeNull();
				expect(valueWords(handle)).toMatch(/\d/);
			}
		}
	});

	it('dragged to where they are stay what they are', () => {
		const project = example('harl-quay');
		const world = buildWorld(project);
		const view = viewOfPose(framing(world), 900, 600, false);
		let held = 0;
		for (const query of world.queries)
			for (const handle of handlesFor(world, query)) {
				if (handle.kind !== 'line') continue;
				const p = toPixels(view, handle.at);
				const next = copy(project);
				const recipe = p && dragHandle(handle, view, p, true);
				if (!recipe) continue;
				recipe(next);
				const again = handlesFor(buildWorld(next), next.queries.find((q) => q.id === query.id) as Query).find(
					(h) => h.id === handle.id,
				);
				if (again?.kind !== 'line') throw new Error(`${handle.id} is gone`);
				expect(Math.abs(again.value - handle.value)).toBeLessThan(2e-4);
				held++;
			}
		expect(held).toBeGreaterThan(10);
	});

	it('pull a box by its face, centre kept, and a capsule never lower than wide', () => {
		const project = example('harl-quay');
		const world = buildWorld(project);
		const crate = world.objectById.get('crate-1');
		const width = crate && objectHandles(world, crate).find((h) => h.label === 'Width of crate');
		const next = copy(project);
		if (width?.kind === 'line') width.set(next, 1.5);
		const shape = next.scene.objects.find((o) => o.id === 'crate-1')?.shapes?.[0];
		expect(shape?.kind === 'box' && shape.size).toEqual([1.5, 0.6, 0.6]);
		const deckhand = world.objectById.get('deckhand');
		const radius = deckhand && objectHandles(world, deckhand).find((h) => h.label.startsWith('Radius'));
		if (radius?.kind === 'line') radius.set(next, 3);
		valid(next);
	});

	it('turn an object to where the ring is pulled, whatever it hangs on', () => {
		const project = example('harl-quay');
		const gangway = project.scene.objects.find((o) => o.id === 'gangway');
		if (gangway) gangway.rotation = [30, 0, 0];
		const world = buildWorld(project);
		const crank = world.objectById.get('crank');
		const turn = crank && objectHandles(world, crank).find((h) => h.id === 'turn');
		if (turn?.kind !== 'angle') throw new Error('no ring');
		turn.set(project, 90);
		const after = buildWorld(project).objectById.get('crank');
		expect(Math.atan2(after?.rotation[2] ?? 0, after?.rotation[8] ?? 0)).toBeCloseTo(Math.PI / 2, 6);
		placeAt(project, buildWorld(project), 'crank', [1, 0.5, 2]);
		const moved = buildWorld(project).objectById.get('crank');
		for (const [k, v] of [1, 0.5, 2].entries()) expect(moved?.position[k]).toBeCloseTo(v, 3);
	});

	it('set the half-angle of a view by where its fan ends', () => {
		const project = example('harl-quay');
		const world = buildWorld(project);
		const query = world.queryById.get('in-sight') as Query;
		const fan = handlesFor(world, query).find((h) => h.id === 'view');
		const view = viewOfPose({ ...framing(world), mode: 'plan' }, 900, 600, false);
		const p = fan && toPixels(view, fan.at);
		if (!fan || !p) throw new Error('no fan');
		dragHandle(fan, view, p, true)?.(project);
		expect(project.queries.find((q) => q.id === 'in-sight')?.view?.within).toBeCloseTo(query.view?.within ?? 0, 1);
	});
});

describe('walking', () => {
	it('goes where it looks, steps aside, turns and looks up', () => {
		const project = example('harl-quay');
		const world = buildWorld(project);
		const query = world.queryById.get('gaze') as Query;
		const mover = moverOf(world, query);
		expect(mover?.object?.id).toBe('deckhand');
		if (!mover) return;
		const at = (key: string, shiftKey = false): Project => {
			const next = copy(project);
			walkStep(mover, { key, shiftKey }, world, query)?.(next);
			valid(next);
			return next;
		};
		const where = (p: Project) => buildWorld(p).objectById.get('deckhand')?.position ?? [0, 0, 0];
		expect(where(at('ArrowUp'))[2]).toBeCloseTo(3.75, 6);
		expect(where(at('ArrowRight', true))[0]).toBeCloseTo(0.25, 6);
		expect(at('ArrowLeft').scene.objects.find((o) => o.id === 'deckhand')?.rotation?.[0]).toBe(5);
		expect(at('PageUp').scene.cameras.find((c) => c.id === 'deckhand-eye')?.rotation?.[1]).not.toBe(
			project.scene.cameras.find((c) => c.id === 'deckhand-eye')?.rotation?.[1],
		);
		expect(walkStep(mover, { key: 'x', shiftKey: false }, world, query)).toBeNull();
		expect(stepOf(world.objects[0] as never, 1, 0, false)[2]).toBeCloseTo(-1, 9);
	});
});

describe('reasons on the stage', () => {
	it('show for every loser as much as it lost by', () => {
		for (const name of EXAMPLES) {
			const world = buildWorld(example(name));
			for (const query of world.queries) {
				const touched: never[] = [];
				const answer = new Answerer(world).explain(query, touched);
				const geometry = geometryOf(world, query, answer);
				if (!geometry) continue;
				for (const verdict of answer.verdicts) {
					const reason = reasonOf(world, geometry, answer, verdict, touched);
					if (!reason) continue;
					for (const p of [...reason.way, ...reason.missing]) for (const v of p) expect(Number.isFinite(v)).toBe(true);
					const [a, b] = reason.missing;
					const length = a && b ? Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) : 0;
					const round = world.objectById.get(verdict.object)?.shapes.every((s) => s.body.mesh === null);
					// The missed distance of a flat pick may be its depth; elsewhere the line drawn is the margin told.
					if (
						verdict.stage === 'touch' &&
						round &&
						!geometry.placement.flatPick &&
						geometry.placement.volumes.length === 0 &&
						query.kind === 'ray'
					)
						expect(length).toBeCloseTo(verdict.margin ?? 0, 4);
				}
			}
		}
	});
});

describe('piles', () => {
	it('list what lies under a point, uppermost first', () => {
		const world = buildWorld(example('pursers-desk'));
		const stub = world.objectById.get('stub-106');
		const pile = pileAt(world, stub?.position[0] ?? 0, stub?.position[1] ?? 0);
		expect(pile.map((o) => o.id)).toContain('stub-106');
		for (let i = 1; i < pile.length; i++)
			expect(pile[i]?.position[2]).toBeLessThanOrEqual(pile[i - 1]?.position[2] ?? Infinity);
	});
});
