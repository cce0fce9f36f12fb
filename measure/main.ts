/**
 * `npm run bench`: the core against plain brute force in the same run, and the figures the project holds itself to. Ratios are
 * what to compare between machines; absolute figures stand beside them.
 */

import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { Tinypool } from 'tinypool';
import { shared } from '../cli/src/shared';
import { castRay } from '../core/src/geometry/ray';
import {
	Answerer,
	buildWorld,
	moveObjects,
	type Project,
	prepareRay,
	type Query,
	type QueryMap,
	type Run,
	type Vec3,
	type World,
} from '../core/src/index';
import { askRows, MapAsker, type MapGrid, mapGrid, refine } from '../core/src/maps';
import { RunInstants, runThrough } from '../core/src/runs';
import { Mesh } from '../core/src/space/mesh';
import { type Dice, dice } from '../core/src/tests/random';
import { best, crowd, median, seconds } from './lib';
import { thrownRows } from './thrown';

/** Length of the rays, metres: a long look across a scene. */
const REACH = 20;

function rays(d: Dice, world: World, n: number): Float64Array {
	const b = world.bounds();
	let reach = 0;
	for (const v of b) reach = Math.max(reach, Math.abs(v));
	const list = new Float64Array(7 * n);
	for (let i = 0; i < 7 * n; i += 7) {
		for (let k = 0; k < 3; k++) list[i + k] = d.between(-reach, reach);
		list.set(d.direction(), i + 3);
		list[i + 6] = REACH;
	}
	return list;
}

const rows: string[][] = [];
const report = (what: string, figure: string, target: string, ok: boolean) => {
	rows.push([what, figure, target, ok ? 'reached' : 'MISSED']);
};

/** Every shape tested for every ray: what the tree is held against. */
function bruteRay(world: World, list: Float64Array, n: number): number {
	let sum = 0;
	for (let i = 0; i < 7 * n; i += 7) {
		let best = REACH;
		for (const { body } of world.shapes) {
			const t = castRay(body, list[i], list[i + 1], list[i + 2], list[i + 3], list[i + 4], list[i + 5], null);
			if (t >= 0 && t < best) best = t;
		}
		sum += best;
	}
	return sum;
}

/** @returns a run of the rays, and the memory one of them takes, bytes */
function winners(world: World, list: Float64Array, n: number): { go: () => void; garbage: number } {
	const ray = prepareRay(world, world.queryById.get('ray') as Query);
	const go = () => {
		for (let i = 0; i < 7 * n; i += 7) ray.cast(list, i);
	};
	go();
	global.gc?.();
	const before = process.memoryUsage().heapUsed;
	go();
	const after = process.memoryUsage().heapUsed;
	return { go, garbage: (after - before) / n };
}

const small = buildWorld(crowd(2000));
const large = buildWorld(crowd(20000));
const d = dice(1);
const smallRays = rays(d, small, 100_000);
const largeRays = rays(d, large, 100_000);
const N = 100_000;
const few = winners(small, smallRays, N);
const many = winners(large, largeRays, N);
// In turns: on a shared machine a slow minute then slows all that is compared, not one side of a ratio.
let brute = Infinity;
let fast = Infinity;
let slow = Infinity;
for (let round = 0; round < 12; round++) {
	brute = Math.min(brute, seconds(() => bruteRay(small, smallRays, 600)) / 600);
	fast = Math.min(fast, seconds(few.go) / N);
	slow = Math.min(slow, seconds(many.go) / N);
}
report(
	'winner-only ray of 20 m, 2,000 objects',
	`${(brute / fast).toFixed(0)} × brute force, ${(1 / fast / 1000).toFixed(0)} thousand rays/s`,
	'60 ×, 500 thousand/s',
	brute / fast >= 60 && 1 / fast >= 500_000,
);
report('the same at 20,000 objects', `${(slow / fast).toFixed(2)} × the time per ray`, '≤ 1.6 ×', slow / fast <= 1.6);
report('garbage of a winner-only ray', `${few.garbage.toFixed(2)} bytes a ray`, 'none', few.garbage < 1);

const pick = small.queryById.get('pick') as Query & { kind: 'pick' };
const at = (): Query => ({ ...pick, cursor: [d.between(200, 1080), d.between(100, 620)] });
/** The median of the quietest of a few rounds, milliseconds. */
const quietMedian = (runs: number, run: () => () => void): number =>
	Math.min(...Array.from({ length: 6 }, () => median(Array.from({ length: runs }, () => seconds(run()) * 1000))));
const explaining = quietMedian(120, () => {
	const query = at();
	return () => void new Answerer(small).explain(query);
});
report('explain a pick, 2,000 verdicts', `median ${explaining.toFixed(2)} ms`, '< 2 ms', explaining < 2);

for (const id of ['overlap', 'sweep'] as const) {
	const answerer = new Answerer(small);
	const base = small.queryById.get(id) as Query;
	const time = quietMedian(400, () => {
		const point: [number, number, number] = [d.between(-15, 15), d.between(-15, 15), d.between(-15, 15)];
		const query = (id === 'overlap' ? { ...base, at: { point } } : { ...base, from: { point } }) as Query;
		return () => void answerer.winner(query);
	});
	report(`${id}, 2,000 objects, winner-only`, `median ${time.toFixed(3)} ms`, '< 0.2 ms', time < 0.2);
}

{
	// A rolling surface of a million triangles.
	const n = 707;
	const vertices = new Float64Array(3 * (n + 1) * (n + 1));
	for (let i = 0; i <= n; i++)
		for (let j = 0; j <= n; j++) {
			const q = 3 * (i * (n + 1) + j);
			vertices[q] = i / 7;
			vertices[q + 1] = Math.sin(i / 31) * 3 + Math.cos(j / 17) * 2 + Math.sin(i * j) * 0.02;
			vertices[q + 2] = j / 7;
		}
	const triangles = new Uint32Array(6 * n * n);
	for (let i = 0, q = 0; i < n; i++)
		for (let j = 0; j < n; j++) {
			const a = i * (n + 1) + j;
			triangles.set([a, a + 1, a + n + 1, a + 1, a + n + 2, a + n + 1], q);
			q += 6;
		}
	let mesh = new Mesh([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, 2]);
	const time = best(4, () => {
		mesh = new Mesh(vertices, triangles);
	});
	const count = 200_000;
	const list = new Float64Array(6 * count);
	for (let i = 0; i < 6 * count; i += 6) {
		list[i] = d.between(0, 100);
		list[i + 1] = 12;
		list[i + 2] = d.between(0, 100);
		const v = [d.between(-1, 1), -1, d.between(-1, 1)];
		const l = Math.hypot(...v);
		for (let k = 0; k < 3; k++) list[i + 3 + k] = (v[k] as number) / l;
	}
	const go = () => {
		for (let i = 0; i < 6 * count; i += 6)
			mesh.castRay(list[i], list[i + 1], list[i + 2], list[i + 3], list[i + 4], list[i + 5], 0, 1000);
	};
	go();
	const rate = count / best(10, go);
	report(
		`mesh of ${(mesh.count / 1e6).toFixed(2)} million triangles`,
		`tree in ${time.toFixed(2)} s, ${(rate / 1000).toFixed(0)} thousand rays/s`,
		'< 2.5 s, 300 thousand/s',
		time < 2.5 && rate >= 300_000,
	);
}

{
	const times: number[] = [];
	const query = large.queryById.get('ray') as Query;
	for (let i = 0; i < 40; i++) {
		const object = large.objects[d.whole(0, 19_999)];
		if (!object) continue;
		const def = { ...object.def, position: [d.between(-30, 30), 0, d.between(-30, 30)] as [number, number, number] };
		times.push(
			seconds(() => {
				moveObjects(large, new Map([[object.id, def]]));
				new Answerer(large).winner(query);
			}) * 1000,
		);
	}
	report(
		'one object moved among 20,000',
		`next answer in ${median(times.slice(5)).toFixed(2)} ms (median)`,
		'< 2 ms',
		median(times.slice(5)) < 2,
	);
}

{
	// A minute at 60 steps a second: 4 watch entries, 12 tracks, 500 objects.
	const still = crowd(500);
	const run = (between: number): Run => ({
		id: 'minute',
		duration: 60,
		step: 1 / 60,
		between,
		tracks: still.scene.objects.slice(0, 12).map(({ id, position = [0, 0, 0] }) => ({
			object: id,
			keys: [0, 15, 30, 45, 60].map((t, i) => ({
				t,
				position: [position[0] + i, position[1], position[2] - (i % 2)] as Vec3,
			})),
		})),
		watch: [
			{ id: 'a', query: 'ray' },
			{ id: 'b', query: 'overlap' },
			{ id: 'c', query: 'overlap', keeps: 'one' },
			{ id: 'd', query: 'sweep', stick: { distance: 0.3 } },
		],
	});
	const time = (between: number) => best(4, () => void runThrough({ ...still, runs: [run(between)] }, run(between)));
	const instants = new RunInstants({ ...still, runs: [run(1)] }, run(1));
	let k = 0;
	// A world built anew at each step, every query asked in full: what moving the world there is is held against.
	const anew = seconds(() => {
		for (; k < 100; k++) {
			const there = buildWorld({ ...instants.at(k / 60), runs: [] });
			const answerer = new Answerer(there);
			for (const { query } of run(1).watch ?? []) answerer.explain(there.queryById.get(query) as Query);
		}
	});
	const [plain, whole] = [time(1), time(8)];
	report(
		'run of 60 s, 3,601 steps, between 1',
		`${plain.toFixed(2)} s, ${(((anew / 100) * 3601) / plain).toFixed(0)} × a world built anew`,
		'< 0.8 s, 20 ×',
		plain < 0.8 && ((anew / 100) * 3601) / plain >= 20,
	);
	report('the same, between 8', `${whole.toFixed(2)} s`, '< 6 s', whole < 6);
}

{
	// Maps: every pixel of a screen, and every place of a floor in 36 headings, by two workers.
	const onScreen = (count: number): [Project, QueryMap] => {
		const map = { id: 'screen', query: 'pick', kind: 'cursor', cell: 1 } as QueryMap;
		const p = crowd(count);
		for (const q of p.queries) if (q.kind === 'pick') q.viewport = [1280, 800];
		return [{ ...p, maps: [map] }, map];
	};
	const onFloor = (): [Project, QueryMap] => {
		const p = crowd(2000);
		const map = {
			id: 'floor',
			query: 'near',
			kind: 'floor',
			area: { min: [-15, -15], max: [14.7, 14.7] },
			every: 0.3,
			headings: 36,
		} as QueryMap;
		p.scene.objects.push({
			id: 'me',
			layer: 'b',
			shapes: [{ id: 's', kind: 'capsule', radius: 0.3, height: 1.8 }],
		});
		p.queries.push({
			id: 'near',
			kind: 'overlap',
			asker: 'me',
			at: { object: 'me' },
			offset: [0, 0, -1],
			shape: { kind: 'box', size: [1.6, 1.8, 2] },
			selects: { layers: ['a', 'b'] },
			sight: { blockers: ['wall'] },
		});
		return [{ ...p, maps: [map] }, map];
	};
	const pool = new Tinypool({
		filename: new URL('../cli/bin/map-part.mjs', import.meta.url).href,
		runtime: 'worker_threads',
		minThreads: 2,
		maxThreads: 2,
	});
	const byTwo = async ([p, map]: [Project, QueryMap], name: string): Promise<[time: number, answers: number]> => {
		const { rows, columns, headings } = mapGrid(p, map) as MapGrid;
		const text = shared(p);
		const ask = (from: number, to: number) => pool.run({ text, map: { ...map, id: name }, from, to });
		// The first part has the workers read their sources and the scene; then the whole.
		await Promise.all([ask(0, 1), ask(1, 2), ask(2, 3), ask(3, 4)]);
		let least = Infinity;
		for (let round = 0; round < 3; round++) {
			const t = performance.now();
			await Promise.all(
				Array.from({ length: 8 }, (_, i) => ask(Math.floor((i * rows) / 8), Math.floor(((i + 1) * rows) / 8))),
			);
			least = Math.min(least, (performance.now() - t) / 1000);
		}
		return [least, rows * columns * headings];
	};
	const screen = onScreen(2000);
	const [plain] = ((): [number] => {
		const asker = new MapAsker(...screen);
		const answerer = new Answerer(asker.world);
		const query = screen[0].queries.find((q) => q.kind === 'pick') as Query & { kind: 'pick' };
		const N = 4000;
		return [
			seconds(() => {
				for (let i = 0; i < N; i++)
					answerer.winner({ ...query, cursor: [d.between(0, 1280), d.between(0, 800)] } as Query);
			}) / N,
		];
	})();
	const [two, answers] = await byTwo(screen, 'screen');
	report(
		'cursor map 1280 × 800, 2,000 objects, two workers',
		`${two.toFixed(2)} s, ${((plain * answers) / two).toFixed(0)} × asking one by one`,
		'< 0.6 s',
		two < 0.6,
	);
	const [twenty] = await byTwo(onScreen(20000), 'screen of 20,000');
	report('the same at 20,000 objects', `${(twenty / two).toFixed(2)} × the time`, '≤ 1.6 ×', twenty / two <= 1.6);
	const first = best(5, () => {
		const asker = new MapAsker(...screen);
		const going = refine(asker);
		for (let next = going.next(); !next.done && next.value.step > 16; next = going.next());
	});
	report('first coarse picture of it', `${(first * 1000).toFixed(0)} ms`, '< 100 ms', first < 0.1);
	const [floor, places] = await byTwo(onFloor(), 'floor');
	report(
		`floor map, ${(places / 1000).toFixed(0)} thousand overlaps with sight, two workers`,
		`${floor.toFixed(2)} s`,
		'< 6 s',
		floor < 6,
	);
	await pool.destroy();
	const [asker, scattered] = [new MapAsker(...screen), smallRays];
	const neighbours = best(5, () => void askRows(asker, 0, asker.grid.rows));
	const rate = asker.answers / neighbours;
	report(
		'rays of a screen of neighbours, one core',
		`${(rate / 1e6).toFixed(2)} million/s`,
		'1.2 million/s',
		rate >= 1.2e6,
	);
	const apart = N / best(8, winners(small, scattered, N).go);
	report('rays scattered, one core', `${(apart / 1e6).toFixed(2)} million/s`, '0.9 million/s', apart >= 0.9e6);
	// In a process of its own: a map is asked by workers that have asked nothing else, which this one has.
	const volumes = execFileSync(process.execPath, ['--import', 'tsx', join(import.meta.dirname, 'volumes.ts')]);
	rows.push(...(JSON.parse(volumes.toString()) as string[][]));
}

rows.push(...thrownRows());

const widths = [0, 1, 2].map((k) => Math.max(...rows.map((r) => (r[k] as string).length)));
for (const r of rows) console.log(r.map((cell, k) => (k < 3 ? cell.padEnd(widths[k] as number) : cell)).join('  '));
