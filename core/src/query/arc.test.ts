/** What is thrown, by hand: which way it goes, what it meets and when, and what is said where it cannot come there. */
import { describe, expect, it } from 'vitest';
import { MESH, sphereBody } from '../geometry/body';
import { readProject } from '../project/read';
import type { Arc, Project, RayQuery, SceneObject, SweepQuery } from '../project/schema';
import { gapBetween } from '../space/cast';
import { randomProject } from '../tests/project';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { buildWorld } from '../world/world';
import { Answerer } from './answer';
import { arcPath, gapToArc, velocityTo } from './arc';

const box = (id: string, position: [number, number, number], size: [number, number, number]): SceneObject => ({
	id,
	layer: 'a',
	position,
	shapes: [{ id: 's', kind: 'box', size }],
});
const wall = box('wall', [5, 5, 0], [1, 20, 20]);

function project(objects: SceneObject[], query: Partial<RayQuery> | Partial<SweepQuery>): Project {
	const base = { id: 'q', kind: 'ray' as const, from: { point: [0, 0, 0] as const } };
	return {
		format: 'frelk/1',
		id: 'p',
		name: 'P',
		scene: { kind: 'space', layers: [{ id: 'a' }, { id: 'b' }], tags: [], objects, cameras: [] },
		queries: [{ ...base, ...query } as RayQuery],
	};
}
function ask(objects: SceneObject[], query: Partial<RayQuery> | Partial<SweepQuery>) {
	const reading = readProject(JSON.stringify(project(objects, query)));
	if (!reading.ok) throw new Error(reading.problems.map((p) => p.message).join('; '));
	const world = buildWorld(reading.project);
	return new Answerer(world).explain(world.queries[0] as RayQuery);
}

describe('the first velocity', () => {
	const at = (arc: Partial<Arc>, to: [number, number, number]) =>
		velocityTo({ speed: 10, gravity: 10, ...arc }, [0, 0, 0], to);
	const through = (v: unknown, to: [number, number, number], g = 10) => {
		const [x, y, z] = v as [number, number, number];
		expect(Math.hypot(x, y, z)).toBeCloseTo(10, 9);
		const t = Math.hypot(to[0], to[2]) / Math.hypot(x, z);
		expect([x * t, y * t - (g * t * t) / 2, z * t].map((c) => Number(c.toFixed(7)) + 0)).toEqual(to);
		return Math.atan2(y, Math.hypot(x, z));
	};

	it('goes through the point, the flatter way or the steeper', () => {
		// At half the reach of 10 m sin 2θ = ½: 15° and 75°.
		expect(through(at({}, [5, 0, 0]), [5, 0, 0])).toBeCloseTo(Math.PI / 12, 9);
		expect(through(at({ high: true }, [5, 0, 0]), [5, 0, 0])).toBeCloseTo((5 * Math.PI) / 12, 9);
		// At the full reach both are 45°.
		for (const high of [false, true]) expect(through(at({ high }, [6, 0, -8]), [6, 0, -8])).toBeCloseTo(Math.PI / 4, 4);
		through(at({}, [3, 1.5, 2]), [3, 1.5, 2]);
		through(at({ high: true }, [3, -1.5, 2]), [3, -1.5, 2]);
	});

	it('goes straight up or down over a point, and straight at it without gravity', () => {
		expect(at({}, [0, 2, 0])).toEqual([0, 10, 0]);
		expect(at({}, [0, -2, 0])).toEqual([0, -10, 0]);
		expect(at({ high: true }, [0, -2, 0])).toEqual([0, 10, 0]);
		expect(at({ gravity: 0, high: true }, [0, 30, 40])).toEqual([0, 6, 8]);
	});

	it('is none at the point itself, and says the least speed that reaches', () => {
		expect(at({}, [0, 0, 1e-10])).toEqual({ not: 'direction' });
		expect(at({}, [20, 0, 0])).toEqual({ not: 'reach', speed: Math.sqrt(200) });
		expect(at({}, [0, 5.1, 0])).toEqual({ not: 'reach', speed: Math.sqrt(102) });
		const answer = ask([wall], { arc: { speed: 5, at: { point: [3, 0, 4] } } });
		expect([answer.status, answer.notes]).toEqual([
			'waiting',
			[{ code: 'out-of-reach', on: 'arc', speed: expect.closeTo(Math.sqrt(9.81 * 5), 12) }],
		]);
	});
});

describe('the way', () => {
	it('is made of as many pieces as there are steps, those without length left out', () => {
		const path = arcPath({ speed: 1, gravity: 0, time: 1.05, step: 0.1 }, [0, 0, 0], [1, 0, 0], null);
		expect(path?.pieces).toHaveLength(10);
		expect(path?.length).toBeCloseTo(1, 12);
		expect(arcPath({ speed: 1e-9, gravity: 0, time: 1, step: 0.5 }, [0, 0, 0], [1e-9, 0, 0], null)).toBeNull();
		// Up and back: where it turns the piece is none.
		const up = arcPath({ speed: 5, gravity: 10, time: 1, step: 1 }, [0, 0, 0], [0, 5, 0], null);
		expect(up).toBeNull();
	});

	it('is followed piece by piece: distance along it, seconds of flight, and a normal against the piece', () => {
		// Without gravity as a straight ray.
		const straight = ask([wall], { aim: { along: [1, 0, 0] }, arc: { speed: 10, gravity: 0 } });
		expect(straight.selected[0]).toMatchObject({
			object: 'wall',
			distance: expect.closeTo(4.5, 9),
			normal: [-1, 0, 0],
		});
		expect(straight.selected[0]?.time).toBeCloseTo(0.45, 9);
		// With it, lower: after 0.45 s by ½·10·0.45².
		const falling = ask([wall], { aim: { along: [1, 0, 0] }, arc: { speed: 10, gravity: 10, step: 0.45 / 27 } });
		expect(falling.selected[0]?.point[1]).toBeCloseTo(-1.0125, 6);
		expect(falling.selected[0]?.time).toBeCloseTo(0.45, 6);
		expect(falling.selected[0]?.distance).toBeGreaterThan(4.6);
		// Over the wall and down on what lies behind it.
		const low = box('low', [5, -5, 0], [1, 12, 20]);
		const behind = box('behind', [8, -1, 0], [2, 1, 2]);
		const over = ask([low, behind], { arc: { speed: 11, at: { object: 'behind' }, high: true } });
		expect(over.selected.map((s) => [s.object, s.normal])).toEqual([['behind', [0, 1, 0]]]);
		expect(ask([low, behind], { arc: { speed: 20, at: { object: 'behind' } } }).selected[0]?.object).toBe('low');
	});

	it('is not followed for what is left of the time after the last step', () => {
		const arc = { speed: 10, gravity: 0, time: 0.44, step: 0.2 };
		const short = ask([wall], { aim: { along: [1, 0, 0] }, arc });
		expect(short.verdicts[0]).toEqual({ object: 'wall', stage: 'touch', margin: expect.closeTo(0.5, 9) });
		expect(ask([wall], { aim: { along: [1, 0, 0] }, arc: { ...arc, time: 0.6 } }).status).toBe('selected');
	});

	it('skips what it begins in until it has left that, and meets it again', () => {
		const low = box('low', [0, -1, 0], [40, 2, 4]);
		const up = { aim: { along: [1, 1, 0] as const }, arc: { speed: 8, gravity: 10, time: 2, step: 0.05 } };
		const answer = ask([low], up);
		expect(answer.notes).toEqual([{ code: 'starts-inside', object: 'low' }]);
		expect(answer.selected[0]?.point[0]).toBeCloseTo(6.4, 2);
		expect(ask([low], { ...up, startInside: 'count' }).selected[0]).toMatchObject({ distance: 0, time: 0 });
	});

	it('is blocked along all of it, also by the slack behind its end', () => {
		const screen: SceneObject = { ...box('screen', [3, 0, 0], [0.2, 20, 20]), layer: 'b' };
		const hidden = ask([wall, screen], {
			aim: { along: [1, 0, 0] },
			arc: { speed: 10, gravity: 0 },
			selects: { layers: ['a'] },
			sight: { blockers: ['b'] },
		});
		expect(hidden.verdicts[0]).toMatchObject({ stage: 'sight', by: 'screen', margin: expect.closeTo(1.6, 9) });
	});

	it('carries a shape as a sweep does', () => {
		const swept = ask([wall], {
			kind: 'sweep',
			shape: { kind: 'sphere', radius: 0.5 },
			aim: { along: [1, 0, 0] },
			arc: { speed: 10, gravity: 0 },
		} as Partial<SweepQuery>);
		expect(swept.selected[0]).toMatchObject({ distance: expect.closeTo(4, 9), time: expect.closeTo(0.4, 9) });
	});
});

describe('a file', () => {
	const wrong = (query: Partial<RayQuery>) => {
		const reading = readProject(JSON.stringify(project([wall], query)));
		return reading.ok ? [] : reading.problems.map((p) => p.path.join('.'));
	};
	it('has either an aim or a place, and nothing else that says how far', () => {
		const arc = { speed: 5 };
		expect(wrong({ arc, aim: { along: [1, 0, 0] } })).toEqual([]);
		expect(wrong({ arc })).toEqual(['queries.0.arc']);
		expect(wrong({ arc: { ...arc, at: { point: [1, 0, 0] } }, aim: { along: [1, 0, 0] } })).toEqual(['queries.0.arc']);
		expect(wrong({ arc, aim: { along: [1, 0, 0] }, length: 3 })).toEqual(['queries.0.length']);
		expect(wrong({ arc: { ...arc, at: { point: [1, 0, 0] } }, to: { point: [1, 0, 0] } })).toEqual(['queries.0.to']);
		expect(wrong({ arc, aim: { along: [1, 0, 0] }, assist: { by: 'angle', within: 3 } })).toEqual(['queries.0.assist']);
		expect(wrong({ arc: { ...arc, high: true }, aim: { along: [1, 0, 0] } })).toEqual(['queries.0.arc.high']);
		expect(wrong({ arc: { ...arc, time: 1, step: 2 }, aim: { along: [1, 0, 0] } })).toEqual(['queries.0.arc.time']);
		expect(wrong({ arc: { ...arc, time: 2, step: 1e-4 }, aim: { along: [1, 0, 0] } })).toEqual(['queries.0.arc.step']);
		expect(wrong({ arc: { ...arc, at: { object: 'nobody' } } })).toEqual(['queries.0.arc.at.object']);
		expect(wrong({ arc: { ...arc, at: { hitOf: 'q' } } })).toEqual(['queries.0']);
		expect(wrong({ arc: { speed: 2e5 }, aim: { along: [1, 0, 0] } })).toEqual(['queries.0.arc.speed']);
	});
});

describe('the gap from a body to what is thrown', () => {
	it('is the least of the gaps to its pieces, whatever is left out on the way', () => {
		const seen = new Set<string>();
		for (let seed = 1; seed <= runs(60); seed++) {
			const d = dice(seed);
			const { shapes } = buildWorld(randomProject(seed, { objects: 8, queries: 1 }));
			const bodies = shapes.map((shape) => shape.body);
			const convex = bodies.filter((body) => body.kind !== MESH);
			const movers = [null, sphereBody(0.2), ...(convex[0] ? [convex[0].clone()] : [])];
			for (const swept of movers) {
				const far = d.chance(0.3) ? 1000 : 1;
				const start: [number, number, number] = [far + d.between(-4, 4), d.between(-4, 4), d.between(-4, 4)];
				const speed = d.between(1, 12);
				const [x, y, z] = d.direction();
				const arc = arcPath({ speed, time: 1.5, step: 1 / 40 }, start, [speed * x, speed * y, speed * z], swept);
				if (!arc) throw new Error('the throw has no length');
				const point = swept ? swept.clone() : sphereBody(0);
				for (const body of bodies) {
					body.x += far - 1;
					const gaps = arc.pieces.map(({ start: [px, py, pz], dir, length }) => {
						[point.x, point.y, point.z] = [px, py, pz];
						[point.sx, point.sy, point.sz] = [length * dir[0], length * dir[1], length * dir[2]];
						return gapBetween(point, body);
					});
					expect(gapToArc(arc, body)).toBeCloseTo(Math.min(...gaps), 8);
					seen.add(`${body.kind} ${swept ? 'swept' : 'ray'}`);
					body.x -= far - 1;
				}
			}
		}
		if (runs(60) >= 60) expect(seen.size).toBeGreaterThan(10);
	});
});
