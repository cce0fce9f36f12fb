/** Random run-throughs of random projects: everything a run may hold, over a handful of steps. */

import { formatProblem } from '../project/problems';
import { checkProject } from '../project/read';
import type { Project, Run } from '../project/schema';
import { randomProject } from './project';
import { dice } from './random';

/**
 * @param held whether presses are held and act on locks, and entries are late
 * @returns a valid project with one run, the same for the same seed
 */
export function randomRun(seed: number, grid = false, held = false): Project {
	const project = randomProject(seed, { objects: 5 + (seed % 6), queries: 5, grid });
	const d = dice(seed + 7_000_003);
	const flat = project.scene.kind === 'flat';
	const { objects, cameras } = project.scene;
	const pick = <T>(list: readonly T[]): T => list[d.whole(0, list.length - 1)] as T;
	const step = pick([0.1, 0.25, 0.5]);
	const times = () => {
		const count = d.whole(1, 4);
		const all = Array.from({ length: count }, () => pick([0, 0.1, 0.25, 0.5, 0.6, 1, 1.25, 2]));
		return [...new Set(all)].sort((a, b) => a - b);
	};
	const place = (): [number, number, number] => [d.between(-3, 3), d.between(-3, 3), flat ? 0 : d.between(-3, 3)];
	const turn = (): [number, number, number] => (flat ? [0, 0, d.between(-180, 180)] : d.rotation());
	const tracks: NonNullable<Run['tracks']> = [];
	const movers = new Set(Array.from({ length: d.whole(1, 4) }, () => pick(objects).id));
	for (const object of movers)
		tracks.push({
			object,
			keys: times().map((t) => ({
				t,
				...(d.chance(0.8) ? { position: place() } : { active: d.chance(0.7) }),
				...(d.chance(0.4) ? { rotation: turn() } : {}),
				...(d.chance(0.2) ? { states: { jammed: d.chance(0.5) } } : {}),
				...(d.chance(0.15) ? { priority: d.whole(-1, 2) } : {}),
				...(d.chance(0.1) ? { prompt: null } : {}),
			})),
		});
	const camera = cameras[0];
	if (camera && !flat && d.chance(0.5))
		tracks.push({ camera: camera.id, keys: times().map((t) => ({ t, rotation: turn() })) });
	const pickQuery = project.queries.find((q) => q.kind === 'pick');
	if (pickQuery?.kind === 'pick' && d.chance(0.7)) {
		const [w, h] = pickQuery.viewport;
		tracks.push({
			query: pickQuery.id,
			keys: times().map((t) => ({ t, cursor: [d.between(0, w), d.between(0, h)] as [number, number] })),
		});
	}
	if (d.chance(0.4))
		tracks.push({ scene: true, keys: times().map((t) => ({ t, states: { 'tide-high': d.chance(0.5) } })) });
	const watch: NonNullable<Run['watch']> = project.queries.slice(0, d.whole(1, 3)).flatMap((q, i) => {
		const takesOne = (q.choose?.take ?? (q.kind === 'hitbox' ? 'all' : 1)) === 1;
		return [
			{ id: `all-${i}`, query: q.id },
			{
				id: `one-${i}`,
				query: q.id,
				keeps: 'one' as const,
				...(d.chance(0.6) ? { forgets: pick(['own', 'any'] as const) } : {}),
			},
			...(takesOne
				? [{ id: `stick-${i}`, query: q.id, stick: { distance: d.between(0, 2), aim: 10, priority: 1 } }]
				: []),
		];
	});
	const hitbox = project.queries.find((q) => q.kind === 'hitbox');
	const swings = hitbox ? [{ query: hitbox.id, at: pick([0, 0.1, 0.5]) }] : [];
	project.effects = [
		{
			action: 'act',
			do: [
				{ of: 'target', carriedBy: 'asker', at: flat ? [0.5, 0, 0] : [0, 1, -0.5] },
				{ of: 'target', add: { wear: d.whole(-2, 2) } },
				{ of: 'scene', set: { states: { alarm: true } } },
			],
		},
		{
			action: 'drop',
			do: [
				{ of: 'target', release: true },
				{ of: 'asker', set: { states: { jammed: true } } },
			],
		},
	];
	for (const object of objects) if (d.chance(0.6)) object.action = pick(['act', 'drop']);
	project.runs = [
		{
			id: 'run',
			duration: pick([0, 0.5, 1.05, 2]),
			step,
			between: pick([1, 2, 4]),
			...(project.moments?.[0] && d.chance(0.4) ? { moment: project.moments[0].id } : {}),
			tracks,
			watch,
			swings,
			presses: Array.from({ length: d.whole(0, 3) }, () => ({
				watch: pick(watch).id as string,
				at: pick([0, 0.2, 0.5, 1]),
			})),
		},
	];
	if (held) withHolds(project, dice(seed + 9_000_011));
	const reading = checkProject(JSON.parse(JSON.stringify(project)));
	if (!reading.ok) throw new Error(reading.problems.map(formatProblem).join('\n'));
	return reading.project;
}

/** Locks, holds and lateness; and queries that find more, so that there is something to hold. By a die of its own. */
function withHolds(project: Project, d: ReturnType<typeof dice>): void {
	const [run] = project.runs ?? [];
	if (!run?.watch) return;
	const pick = <T>(list: readonly T[]): T => list[d.whole(0, list.length - 1)] as T;
	for (const query of project.queries) {
		if (!d.chance(0.75)) continue;
		for (const part of ['selects', 'range', 'approach'] as const) delete query[part];
		if (query.kind === 'overlap' && !('like' in query.shape) && project.scene.kind === 'space' && d.chance(0.7))
			query.shape = { kind: 'sphere', radius: d.between(2, 6) };
		if (query.kind === 'overlap' && project.scene.kind === 'flat' && d.chance(0.7))
			query.shape = { kind: 'circle', radius: d.between(2, 6) };
	}
	const late = () => (d.chance(0.5) ? { late: pick([0, 0.1, 0.13, 0.5, 3]) } : {});
	const locks = run.watch.map(({ query }, i) => ({
		id: `lock-${i}`,
		query,
		keeps: 'lock' as const,
		...(d.chance(0.7) ? { patience: pick([0, 0.25, 0.6]) } : {}),
	}));
	run.watch = [...run.watch, ...locks].map((entry) => ({ ...entry, ...late() }));
	run.duration = Math.max(run.duration, 1.05);
	run.swings = run.swings?.map((swing) => ({ ...swing, ...late() })) ?? [];
	const at = () => pick([0, 0.1, 0.25, 0.5, 0.75, 1]);
	run.presses = [
		...(run.presses ?? []),
		...Array.from({ length: d.whole(4, 8) }, () => ({
			watch: (pick(run.watch ?? []) as { id: string }).id,
			at: at(),
			...(d.chance(0.8) ? { hold: pick([0.1, 0.3, 0.5]) } : {}),
		})),
		...Array.from({ length: d.whole(2, 6) }, () => ({
			watch: pick(locks).id,
			at: at(),
			do: pick(['lock', 'next', 'next', 'previous', 'release'] as const),
		})),
	];
}
