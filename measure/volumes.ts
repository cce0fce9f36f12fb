/** Volumes of a map, in a process of their own; prints rows of `main.ts` as JSON. */
import { Answerer, buildWorld, moveObjects, type Query, type SceneObject, type Vec3 } from '../core/src/index';
import { filtersOf } from '../core/src/query/filters';
import { dice } from '../core/src/tests/random';
import { best, crowd } from './lib';

const d = dice(1);
const rows: string[][] = [];
const volumes = crowd(2000);
const me: SceneObject = { id: 'me', layer: 'b', shapes: [{ id: 's', kind: 'sphere', radius: 0.3 }] };
volumes.scene.objects.push(me);
volumes.queries = [
	...volumes.queries,
	{
		id: 'swing',
		kind: 'hitbox',
		asker: 'me',
		boxes: [
			{ shape: { kind: 'box', size: [1, 0.4, 1.6] }, at: [0, 0.3, -1], from: 0.1, until: 0.3 },
			{ shape: { kind: 'capsule', radius: 0.3, height: 1.6 }, at: [0.6, 0.2, -0.8], from: 0.2, until: 0.4 },
		],
		selects: { layers: ['a', 'b'] },
	},
];
const world = buildWorld(volumes);
for (const [id, most] of [
	['overlap', 0.012],
	['swing', 0.03],
] as const) {
	const answerer = new Answerer(world);
	const base = world.queryById.get(id) as Query;
	const filters = filtersOf(world, base);
	// As a map asks: many in a row, each elsewhere.
	const points = Array.from({ length: 2000 }, (): Vec3 => [d.between(-15, 15), d.between(-15, 15), d.between(-15, 15)]);
	const asked = points.map((point) => (id === 'overlap' ? { ...base, at: { point } } : base) as Query);
	const moved = points.map((position) => new Map([['me', { ...me, position }]]));
	const moving = id === 'swing' ? best(6, () => moved.forEach((m) => void moveObjects(world, m))) : 0;
	const whole = best(12, () =>
		asked.forEach((query, i) => {
			if (id === 'swing') moveObjects(world, moved[i] as Map<string, SceneObject>);
			answerer.winner(query, filters);
		}),
	);
	const time = ((whole - moving) / points.length) * 1000;
	rows.push([
		`${id === 'swing' ? 'hitbox' : id} of a map, 2,000 objects`,
		`${time.toFixed(4)} ms`,
		`${most} ms`,
		time <= most ? 'reached' : 'MISSED',
	]);
}
console.log(JSON.stringify(rows));
