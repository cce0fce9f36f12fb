/** Traces made here, and what is kept of one: a run as a game would tell it, a line as a moment, a stretch as a run. */
import { lastStep } from '../project/defaults';
import { recordInto } from '../project/record';
import type { Moment, Project, Run, Vec2, Vec3 } from '../project/schema';
import { Answerer } from '../query/answer';
import { RunInstants } from '../run/instants';
import { keyChanges, type Recorded, type Sample, type TrackTarget, withKeys, withRecording } from '../run/record';
import { runThrough, type StateAtTime } from '../run/run';
import { buildWorld } from '../world/world';
import { TraceScene } from './scene';
import { TRACE_FORMAT, type TraceHead, type TraceLine } from './schema';

/** What differs between two states of one project, as a line of a trace tells it. */
function differences(before: Project, now: Project): Partial<TraceLine> {
	const out: Record<string, Record<string, unknown>> = {};
	for (const { thing, values } of keyChanges(before, now)) {
		if ('scene' in thing) out.states = values.states as Record<string, unknown>;
		else {
			const [kind, id] = Object.entries(thing)[0] as [string, string];
			const list = kind === 'object' ? 'objects' : kind === 'camera' ? 'cameras' : 'queries';
			out[list] = { ...out[list], [id]: values };
		}
	}
	return out as Partial<TraceLine>;
}

/**
 * A run as a trace: a line a step, with what changed since the line before and what each watched query selects there (the still answer,
 * without memory).
 */
export function* traceOfRun(project: Project, run: Run): Generator<TraceHead | TraceLine> {
	yield { format: TRACE_FORMAT, project: project.id, clock: 's' };
	const standing: StateAtTime[] = [];
	runThrough(project, run, { standing: (s) => standing.push(s) });
	const instants = new RunInstants(project, run, standing);
	const asked = [...new Set((run.watch ?? []).map((w) => w.query))];
	let before = project;
	for (let k = 0; k <= lastStep(run); k++) {
		const t = k * run.step;
		const now = instants.at(t);
		const answerer = new Answerer(buildWorld(now));
		yield {
			t,
			...differences(before, now),
			asked: asked.map((query) => {
				const of = now.queries.find((q) => q.id === query);
				const { selected } = of ? answerer.winner(of) : { selected: [] };
				return { query, got: selected.length > 0 ? selected.map((s) => s.object) : null };
			}),
		};
		before = now;
	}
}

/** The project as a trace has told it up to a line, in the form of a project. */
export function projectAsTold(scene: TraceScene): Project {
	const { project } = scene;
	const { objects, cameras, queries, states } = scene.laid();
	return { ...project, scene: { ...project.scene, objects, cameras, states }, queries };
}

/** @returns the project with a moment more, which holds all that a trace told up to a line and the scene does not say */
export function withTraceMoment(scene: TraceScene, moment: Moment): Project {
	const { project } = scene;
	const plain: Project = { ...project, moments: [...(project.moments ?? []), moment] };
	return recordInto(plain, moment.id, plain, { ...projectAsTold(scene), moments: plain.moments });
}

const FIELDS: readonly Recorded[] = ['position', 'rotation', 'cursor'];

/**
 * @param lines of a trace, from its first on: what they told before the stretch holds in it
 * @param from place of the stretch's first line, from 0
 * @param to place of its last
 * @param name of the run, with its id
 * @returns a run that does what the game told in that stretch, and watches what it asked
 * @throws RangeError where a parent it tells closes a circle
 */
export function runOfTrace(
	project: Project,
	lines: readonly TraceLine[],
	from: number,
	to: number,
	name: { id: string; name?: string },
): Run {
	const scene = new TraceScene(project);
	let run: Run = { ...name, duration: 0, step: 1 / 60 };
	let before = project;
	const samples = new Map<string, { thing: TrackTarget; field: Recorded; samples: Sample[] }>();
	const asked = new Set<string>();
	const start = lines[from]?.t ?? 0;
	const gaps: number[] = [];
	let last = 0;
	for (let i = 0; i <= to; i++) {
		const line = lines[i] as TraceLine;
		scene.tell(line);
		if (i < from) continue;
		const t = Math.max(last, line.t - start);
		const now = projectAsTold(scene);
		if (i > from && t > last) gaps.push(t - last);
		for (const { query } of line.asked ?? []) if (project.queries.some((q) => q.id === query)) asked.add(query);
		for (const { thing, values } of keyChanges(before, now)) {
			const { position, rotation, cursor, ...rest } = values;
			// What hangs elsewhere from now on is given its place and turn with that.
			if (rest.parent !== undefined || i === from) {
				run = withKeys(run, t, [{ thing, values }]);
				continue;
			}
			if (Object.keys(rest).length > 0) run = withKeys(run, t, [{ thing, values: rest }]);
			for (const field of FIELDS) {
				const value = { position, rotation, cursor }[field as 'position'] as Vec3 | Vec2 | undefined;
				if (value === undefined) continue;
				const key = `${JSON.stringify(thing)} ${field}`;
				const known = samples.get(key) ?? { thing, field, samples: [] };
				// It stayed where it was until the line before.
				const still = known.samples.at(-1)?.value ?? figuresOf(before, thing, field);
				if (still && (known.samples.at(-1)?.t ?? -1) < last) known.samples.push({ t: last, value: still });
				if (known.samples.at(-1)?.t !== t) known.samples.push({ t, value });
				else known.samples[known.samples.length - 1] = { t, value };
				samples.set(key, known);
			}
		}
		before = now;
		last = t;
	}
	run = withRecording(run, [...samples.values()]);
	gaps.sort((a, b) => a - b);
	const step = gaps[gaps.length >> 1] ?? 1 / 60;
	return {
		...run,
		duration: last,
		step,
		...(asked.size > 0 ? { watch: [...asked].map((query) => ({ query })) } : {}),
	};
}

function figuresOf(project: Project, thing: TrackTarget, field: Recorded): readonly number[] | undefined {
	if ('object' in thing) {
		const object = project.scene.objects.find((o) => o.id === thing.object);
		return object && field !== 'cursor' ? (object[field] ?? [0, 0, 0]) : undefined;
	}
	if ('camera' in thing) {
		const camera = project.scene.cameras.find((c) => c.id === thing.camera);
		return camera && field !== 'cursor' ? (camera[field] ?? [0, 0, 0]) : undefined;
	}
	const query = 'query' in thing ? project.queries.find((q) => q.id === thing.query) : undefined;
	return query?.kind === 'pick' ? (query.cursor ?? [query.viewport[0] / 2, query.viewport[1] / 2]) : undefined;
}
