import { describe, expect, it } from 'vitest';
import { randomProject } from '../tests/project';
import { ahead, box, object, project } from '../tests/scene';
import { didYouMean, formatProblem } from './problems';
import { checkProject, readProject } from './read';
import { writeProject } from './write';

/** The lines said about a project after a change to it; the change may put anything anywhere. */
// biome-ignore lint/suspicious/noExplicitAny: what a file holds before it is checked
function complaints(change: (p: any) => void): string[] {
	const data = JSON.parse(
		JSON.stringify(project([object('one', [0, 0, 0], [box([1, 1, 1])]), object('two', [0, 0, 0], [])], [ahead()])),
	);
	change(data);
	const reading = checkProject(data);
	return reading.ok ? [] : reading.problems.map(formatProblem);
}

describe('reading a project', () => {
	it('says what is misspelt and what may be meant', () => {
		expect(complaints((p) => (p.scene.objects[1].layer = 'wal'))).toEqual([
			'scene.objects[1].layer: no layer "wal" (did you mean "wall"?)',
		]);
		expect(complaints((p) => (p.scene.objects[0].shapes[0].kind = 'bxo'))[0]).toMatch(
			/^scene\.objects\[0\]\.shapes\[0\]\.kind: expected one of "box",.*got "bxo" \(did you mean "box"\?\)$/,
		);
		expect(complaints((p) => (p.scene.objects[0].positon = [0, 0, 0]))).toEqual([
			'scene.objects[0].positon: unknown key "positon" (did you mean "position"?)',
		]);
		expect(complaints((p) => (p.queries[0].selects = { layer: ['a'] }))).toEqual([
			'queries[0].selects.layer: unknown key "layer" (did you mean "layers"?)',
		]);
		expect(complaints((p) => (p.queries[0].choose = { by: [{ rule: 'nearest' }] }))[0]).toContain(
			'queries[0].choose.by[0].rule: expected one of "distance"',
		);
	});

	it('says what is missing, of the wrong type or out of bounds', () => {
		expect(complaints((p) => delete p.name)).toEqual(['name: is missing; expected text']);
		expect(complaints((p) => (p.scene.objects[0].position = [0, 0]))).toEqual([
			'scene.objects[0].position: expected 3 entries, got 2',
		]);
		expect(complaints((p) => (p.scene.objects[0].position[1] = '3'))).toEqual([
			'scene.objects[0].position[1]: expected a finite number, got "3"',
		]);
		expect(complaints((p) => (p.scene.objects[0].shapes[0].size = [1, 0, 1]))).toEqual([
			'scene.objects[0].shapes[0].size[1]: must be more than 0, got 0',
		]);
		expect(complaints((p) => (p.queries[0].choose = { by: [] }))).toEqual([
			'queries[0].choose.by: needs at least one rule; leave it out for any, got a list',
		]);
		expect(complaints((p) => (p.format = 'frelk/2'))).toEqual([
			'format: "frelk/2" is not known to this program; it reads "frelk/1"',
		]);
		expect(complaints((p) => (p.scene.layers = Array.from({ length: 33 }, (_, i) => ({ id: `l${i}` }))))[0]).toContain(
			'at most 32 layers',
		);
	});

	it('finds doubles, circles and stand-ins of stand-ins', () => {
		expect(complaints((p) => (p.scene.objects[1].id = 'one'))).toEqual([
			'scene.objects[1].id: the object id "one" is already used by entry 0; ids are unique',
		]);
		expect(
			complaints((p) => {
				p.scene.objects[0].parent = 'two';
				p.scene.objects[1].parent = 'one';
			}),
		).toEqual(['scene.objects[0].parent: goes round in a circle: one → two → one']);
		expect(complaints((p) => (p.scene.objects[0].standsFor = 'one'))).toEqual([
			'scene.objects[0].standsFor: an object cannot stand for itself',
		]);
		expect(complaints((p) => (p.queries[0].from = { hitOf: 'q' }))).toEqual([
			'queries[0]: "hitOf" goes round in a circle: q → q',
		]);
		expect(complaints((p) => (p.moments = [{ id: 'm', on: 'm' }]))).toEqual([
			'moments[0].on: goes round in a circle: m → m',
		]);
		expect(
			complaints((p) => {
				p.scene.objects[1].parent = 'one';
				p.moments = [{ id: 'm', objects: { one: { parent: 'two' } } }];
			})[0],
		).toMatch(/^moments\[0\]\.objects: at this moment "parent" goes round in a circle/);
	});

	it('keeps what does not go together apart', () => {
		expect(complaints((p) => (p.queries[0].to = { point: [0, 0, 0] }))[0]).toContain(
			'a ray has either "aim" or "to", not both',
		);
		expect(complaints((p) => (p.queries[0].sight = { from: { point: [0, 0, 0] } }))[0]).toContain(
			'queries[0].sight.from: the sight of a ray runs along its path',
		);
		expect(complaints((p) => (p.queries[0].assist = { by: 'pixels', within: 3 }))[0]).toContain('only a pick has one');
		expect(complaints((p) => (p.queries[0].selects = { when: [{ of: 'asker', state: 'x', is: true }] }))[0]).toContain(
			'needs an "asker"',
		);
		expect(complaints((p) => (p.scene.objects[0].shapes[0] = { id: 's', kind: 'circle', radius: 1 }))[0]).toContain(
			'a circle does not belong in a space scene',
		);
		expect(
			complaints((p) => (p.scene.objects[0].shapes[0] = { id: 's', kind: 'capsule', radius: 1, height: 1 }))[0],
		).toContain('2 × radius is 2, got 1');
		expect(
			complaints(
				(p) =>
					(p.scene.objects[0].shapes[0] = {
						id: 's',
						kind: 'hull',
						points: [
							[0, 0, 0],
							[1, 0, 0],
							[0, 1, 0],
							[1, 1, 0],
						],
					}),
			)[0],
		).toContain('do not all lie in one plane');
		expect(
			complaints(
				(p) =>
					(p.scene.objects[0].shapes[0] = {
						id: 's',
						kind: 'mesh',
						vertices: [0, 0, 0, 1, 0, 0, 0, 1, 0],
						triangles: [0, 1, 7],
					}),
			),
		).toEqual(['scene.objects[0].shapes[0].triangles[2]: no corner 7; the mesh has 3 (0 to 2)']);
		expect(
			complaints(
				(p) =>
					(p.queries[0] = {
						id: 'q',
						kind: 'overlap',
						at: { point: [0, 0, 0] },
						shape: { kind: 'sphere', radius: 1 },
						view: { within: 10 },
					}),
			)[0],
		).toContain('needs an "about" direction or an "asker"');
		expect(complaints((p) => (p.queries[0].from = { object: 'one', point: [0, 0, 0] }))[0]).toContain(
			'exactly one of point, object, focus, camera, hitOf; this one has point and object',
		);
	});

	it('names line and column of what is not JSON, and refuses hostile files', () => {
		const reading = readProject('{\n  "format": "frelk/1",\n  "id": oops\n}');
		expect(reading.ok ? '' : formatProblem(reading.problems[0] as never)).toMatch(/line 3, column 9/);
		expect(readProject('').ok).toBe(false);
		const proto = readProject('{"format":"frelk/1","__proto__":{"x":1}}');
		expect(proto.ok ? '' : proto.problems[0]?.message).toBe('is not a key a project may use');
		const deep = readProject(`${'{"extras":'.repeat(5000)}1${'}'.repeat(5000)}`);
		expect(deep.ok ? '' : deep.problems[0]?.message).toContain('nested more than');
		expect(readProject('[1,2,3]').ok).toBe(false);
		expect(readProject('null').ok).toBe(false);
	});

	it('writes what it read, nothing lost and nothing added', () => {
		for (let seed = 1; seed < 60; seed++) {
			const p = randomProject(seed);
			(p as unknown as Record<string, unknown>).extras = { theirs: [1, { deep: 'kept' }] };
			const again = readProject(writeProject(p));
			expect(again.ok && again.project).toEqual(p);
		}
	});

	it('suggests near words only', () => {
		expect(didYouMean('walls', ['wall', 'fence'])).toBe(' (did you mean "wall"?)');
		expect(didYouMean('xyz', ['wall', 'fence'])).toBe('');
	});
});
