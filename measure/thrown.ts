/** What is thrown, against what flies straight as far; what is late, against the same in time. In turns, within one run. */
import { Answerer, buildWorld, type Query, type Run, type Vec3 } from '../core/src/index';
import { runThrough } from '../core/src/runs';
import { dice } from '../core/src/tests/random';
import { crowd, seconds } from './lib';

/** Rounds of which the best counts. */
const ROUNDS = 10;
const row = (what: string, ratio: number, most: number): string[] => [
	what,
	`${ratio.toFixed(2)} × the time`,
	`≤ ${most} ×`,
	ratio <= most ? 'reached' : 'MISSED',
];

/** @returns how many times longer the second takes than the first, each at its best */
function ratioOf(first: () => void, second: () => void): number {
	let [a, b] = [Infinity, Infinity];
	for (let round = 0; round < ROUNDS; round++) {
		a = Math.min(a, seconds(first));
		b = Math.min(b, seconds(second));
	}
	return b / a;
}

/** @returns rows of the table of `npm run bench` */
export function thrownRows(): string[][] {
	const d = dice(3);
	const world = buildWorld(crowd(2000));
	const answerer = new Answerer(world);
	const starts = Array.from({ length: 60 }, (): [Vec3, Vec3] => [
		[d.between(-15, 15), d.between(-15, 15), d.between(-15, 15)],
		d.direction() as Vec3,
	]);
	const rows: string[][] = [];
	for (const id of ['ray', 'sweep'] as const) {
		const base = world.queryById.get(id) as Query;
		// A lob of 1.5 s at 12 m/s in 90 pieces; its way is between 15 and 25 m.
		const thrown = starts.map(
			([point, along]) =>
				({ ...base, length: undefined, from: { point }, aim: { along }, arc: { speed: 12, time: 1.5 } }) as Query,
		);
		const straight = starts.map(
			([point, along]) => ({ ...base, length: 20, from: { point }, aim: { along } }) as Query,
		);
		for (const [how, ask] of [
			['explained', (q: Query) => void answerer.explain(q)],
			['winner only', (q: Query) => void answerer.winner(q)],
		] as const)
			rows.push(
				row(
					`thrown ${id}, 2,000 objects, ${how}, against a straight one`,
					ratioOf(
						() => straight.forEach(ask),
						() => thrown.forEach(ask),
					),
					3,
				),
			);
	}
	const still = crowd(500);
	const run = (late: number): Run => ({
		id: 'minute',
		duration: 60,
		step: 1 / 60,
		between: 1,
		tracks: still.scene.objects.slice(0, 12).map(({ id, position = [0, 0, 0] }) => ({
			object: id,
			keys: [0, 15, 30, 45, 60].map((t, i) => ({
				t,
				position: [position[0] + i, position[1], position[2] - (i % 2)] as Vec3,
			})),
		})),
		watch: [
			{ id: 'a', query: 'ray', ...(late > 0 ? { late } : {}) },
			{ id: 'b', query: 'overlap' },
			{ id: 'c', query: 'sweep' },
		],
	});
	const [inTime, late] = [run(0), run(0.12)];
	rows.push(
		row(
			'run of 60 s with a late entry, against one without',
			ratioOf(
				() => void runThrough({ ...still, runs: [inTime] }, inTime),
				() => void runThrough({ ...still, runs: [late] }, late),
			),
			2,
		),
	);
	return rows;
}
