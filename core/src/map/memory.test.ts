/** A map is asked once for all that want it, and again only where an edit reaches it. */
import { expect, it } from 'vitest';
import type { Project } from '../project/schema';
import { example } from '../tests/examples';
import { askMap } from './map';
import { checkMaps, MapMemory } from './memory';

const quay = example('harl-quay');
/** The quay with three small maps: one of them at a moment, two of one query. */
const project = (edit: (p: Project) => void = () => {}): Project => {
	const p: Project = JSON.parse(JSON.stringify(quay));
	p.maps = [
		{ id: 'now', query: 'harbour-pick', kind: 'cursor', cell: 96 },
		{ id: 'jammed', query: 'harbour-pick', moment: 'crank-jammed', kind: 'cursor', cell: 96 },
		{ id: 'looked', query: 'gaze', kind: 'aim', yaw: [-60, 60], pitch: [-40, 20], every: 20 },
	];
	p.checks = [
		{ id: 'a', map: 'now', expect: { tied: { max: 0 } } },
		{ id: 'b', map: 'now', expect: { never: ['bell'] } },
	];
	edit(p);
	return p;
};

/** @returns how many maps a look at an edited project asks; what it finds is what each map says alone */
function asked(memory: MapMemory, edit?: (p: Project) => void): number {
	const p = project(edit);
	const before = memory.made;
	memory.turnTo(p);
	for (const map of p.maps ?? []) expect(memory.result(map)).toEqual(askMap(p, map));
	expect(memory.results.map((r) => r.map).sort()).toEqual((p.maps ?? []).map((m) => m.id).sort());
	return memory.made - before;
}

/** What is found in a list by its id, or it throws. */
const of = <T extends { id: string }>(list: readonly T[] | undefined, id: string): T => {
	const found = list?.find((e) => e.id === id);
	if (!found) throw new RangeError(`no ${id}`);
	return found;
};

it('asks again what an edit reaches, and nothing else', () => {
	const memory = new MapMemory();
	expect(asked(memory)).toBe(3);
	expect(asked(memory)).toBe(0);
	for (const edit of [
		(p) => void (p.name = 'Another'),
		(p) => void (of(p.queries, 'reach').name = 'Another'),
		(p) => void (of(p.moments, 'booth-shut').objects = {}),
	] satisfies ((p: Project) => void)[])
		expect(asked(memory, edit)).toBe(0);
	expect(asked(memory, (p) => void (of(p.queries, 'gaze').name = 'Another'))).toBe(1);
	// Taken back, it is asked once more: nothing stays that does not hold any more.
	expect(asked(memory)).toBe(1);
	expect(asked(memory, (p) => void (of(p.moments, 'crank-jammed').name = 'Another'))).toBe(1);
	expect(asked(memory, (p) => void Object.assign(of(p.maps, 'now'), { cell: 95 }))).toBe(2);
	expect(asked(memory, (p) => void (p.scene.objects[0].position = [0.01, 0, 0]))).toBe(3);
	expect(asked(memory, (p) => void p.maps?.pop())).toBe(2);
});

it('is what checks are judged by, each map once', () => {
	const memory = new MapMemory();
	const p = project();
	expect(checkMaps(p, undefined, undefined, memory)).toEqual(checkMaps(p));
	expect(memory.made).toBe(1);
	checkMaps(project(), undefined, undefined, memory);
	expect(memory.made).toBe(1);
	expect(() => checkMaps(p, [{ id: 'c', map: 'none', expect: { tied: { max: 0 } } }])).toThrow('no map "none"');
	expect(() => new MapMemory().result((p.maps ?? [])[0] as never)).toThrow(RangeError);
});
