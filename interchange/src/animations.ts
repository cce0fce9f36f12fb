/** Animations of a level as run-throughs of a project: the tracks are the file's, all else is said here. */
import { type Project, type Run, slug, type Track } from '@frelk/core';
import * as z from 'zod';
import type { Level } from './level';
import { isRecord, toldOfCamera } from './told';

/** A run that came of an animation, now or again. */
export interface RunCame {
	id: string;
	name: string;
	tracks: number;
	keys: number;
}

/** What a file said of a run the last time. */
const toldSchema = z.object({
	file: z.string(),
	animation: z.string(),
	duration: z.number(),
	/** Of what there were tracks: `object crate`. */
	tracks: z.array(z.string()),
});

const toldOf = ({ extras }: Run): z.output<typeof toldSchema> | null =>
	(isRecord(extras) && toldSchema.safeParse(extras.import).data) || null;

const nameOfTrack = ({ object, camera, query }: Track): string =>
	object !== undefined
		? `object ${object}`
		: camera !== undefined
			? `camera ${camera}`
			: query !== undefined
				? `query ${query}`
				: 'scene';

/**
 * @param idOf ids of objects by their paths in the file
 * @param came what came is added here
 * @returns the project with a run for each animation; of runs that came before the tracks of the file are put anew, and nothing else
 */
export function withRuns(
	project: Project,
	level: Level,
	idOf: ReadonlyMap<string, string>,
	file: string,
	came: RunCame[],
): Project {
	const before = project.runs ?? [];
	const cameras = new Map(
		project.scene.cameras.flatMap((camera) => {
			const told = toldOfCamera(camera);
			return told?.file === file ? [[told.node, camera.id] as const] : [];
		}),
	);
	const known = new Map(
		before.flatMap((run) => {
			const told = toldOf(run);
			return told?.file === file ? [[told.animation, run] as const] : [];
		}),
	);
	if (known.size === 0 && level.animations.length === 0) return project;
	const runs = new Map(before.map((run) => [run.id, run]));
	for (const animation of named(level)) {
		const tracks = animation.tracks.flatMap(({ of, path, keys }): Track[] => {
			const id = of === 'node' ? idOf.get(path) : cameras.get(path);
			return id === undefined ? [] : [of === 'node' ? { object: id, keys } : { camera: id, keys }];
		});
		const run = known.get(animation.name);
		known.delete(animation.name);
		if (!run && tracks.length === 0) continue;
		const told = { file, animation: animation.name, duration: animation.duration, tracks: tracks.map(nameOfTrack) };
		const made = run ? again(run, tracks, told) : fresh(animation.name, tracks, told, runs);
		runs.set(made.id, made);
		came.push({
			id: made.id,
			name: made.name ?? made.id,
			tracks: tracks.length,
			keys: tracks.reduce((sum, { keys }) => sum + keys.length, 0),
		});
	}
	// Animations the file no longer has: what was said here of their runs stays, without what moved.
	for (const run of known.values()) {
		const left = again(run, [], null);
		const isSaid =
			[left.tracks, left.watch, left.swings, left.presses].some((list) => (list?.length ?? 0) > 0) ||
			(project.checks ?? []).some((check) => 'run' in check && check.run === run.id);
		if (isSaid) runs.set(run.id, left);
		else runs.delete(run.id);
	}
	const { runs: _, ...rest } = project;
	return runs.size > 0 ? { ...rest, runs: [...runs.values()] } : rest;
}

/** Animations by names of their own. */
function named({ animations }: Level): Level['animations'] {
	const taken = new Map<string, number>();
	return animations.map((animation) => {
		const n = (taken.get(animation.name) ?? 0) + 1;
		taken.set(animation.name, n);
		return n === 1 ? animation : { ...animation, name: `${animation.name} ${n}` };
	});
}

function fresh(name: string, tracks: Track[], told: z.output<typeof toldSchema>, runs: ReadonlyMap<string, Run>): Run {
	const base = slug(name, 56) || 'animation';
	let id = base;
	for (let n = 2; runs.has(id); n++) id = `${base}-${n}`;
	return {
		id,
		...(name === id ? {} : { name }),
		duration: told.duration,
		step: 1 / 60,
		tracks,
		extras: { import: told },
	};
}

/** A run that came before, with the file's tracks as they are now. */
function again(run: Run, tracks: Track[], told: z.output<typeof toldSchema> | null): Run {
	const was = toldOf(run);
	const came = new Set(was?.tracks ?? []);
	const own = (run.tracks ?? []).filter((track) => !came.has(nameOfTrack(track)));
	const taken = new Set(own.map(nameOfTrack));
	// What is moved here is not moved by the file as well.
	const put = tracks.filter((track) => !taken.has(nameOfTrack(track)));
	const all = [...put, ...own];
	const { tracks: _, extras, ...rest } = run;
	const { import: __, ...others } = isRecord(extras) ? extras : {};
	const kept = { ...others, ...(told ? { import: { ...told, tracks: put.map(nameOfTrack) } } : {}) };
	return {
		...rest,
		// As long as nobody said another.
		...(told && run.duration === was?.duration ? { duration: told.duration } : {}),
		...(all.length > 0 ? { tracks: all } : {}),
		...(Object.keys(kept).length > 0 ? { extras: kept } : {}),
	};
}
