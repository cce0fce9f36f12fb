/**
 * A bench that stands at an instant of a run. What is edited there becomes keys of the run at that instant, as far as keys can hold it,
 * and is written to the open project; while it records, it is collected instead.
 */
import type { Project, Run } from '@frelk/core';
import {
	beyondKeys,
	type KeyChange,
	keyChanges,
	type Recorded,
	RunInstants,
	type Sample,
	type StateAtTime,
	type TrackTarget,
	withKeys,
	withRecording,
} from '@frelk/core/runs';
import { create as produce } from 'mutative';
import type { BenchStore } from '../../model/bench-state';
import { createBench } from '../../model/store';

const FIELDS: readonly Recorded[] = ['position', 'rotation', 'cursor'];

interface Track {
	thing: TrackTarget;
	field: Recorded;
	samples: Sample[];
}

/** What is recorded while time runs. */
class Recorder {
	private readonly tracks = new Map<string, Track>();
	/** What was said that is no number: states, what it hangs on; as keys at their time. */
	private readonly plain: { t: number; changes: KeyChange[] }[] = [];

	/** @param before what stood there, so that nothing jumps where the recording begins */
	note(
		t: number,
		changes: readonly KeyChange[],
		before: (thing: TrackTarget, field: Recorded) => number[] | undefined,
	): void {
		for (const { thing, values } of changes) {
			const rest: Record<string, unknown> = { ...values };
			if (values.parent === undefined)
				for (const field of FIELDS) {
					const value = values[field];
					if (value === undefined) continue;
					delete rest[field];
					this.sample(thing, field, t, value, before(thing, field));
				}
			if (Object.keys(rest).length > 0)
				this.plain.push({ t, changes: [{ thing, values: rest as KeyChange['values'] }] });
		}
	}

	private sample(
		thing: TrackTarget,
		field: Recorded,
		t: number,
		value: readonly number[],
		was: number[] | undefined,
	): void {
		const key = JSON.stringify([thing, field]);
		let track = this.tracks.get(key);
		if (!track) {
			track = { thing, field, samples: was ? [{ t, value: was }] : [] };
			this.tracks.set(key, track);
		}
		const last = track.samples.at(-1);
		if (last && Math.abs(last.t - t) < 1e-6) track.samples[track.samples.length - 1] = { t: last.t, value };
		else track.samples.push({ t, value });
	}

	/** What is held holds on while time goes on. */
	hold(t: number): void {
		for (const { samples } of this.tracks.values()) {
			const last = samples.at(-1);
			if (last && t > last.t + 1e-6) samples.push({ t, value: last.value });
		}
	}

	/** The scene with what is held as it is held. */
	over(project: Project): Project {
		if (this.tracks.size === 0) return project;
		return produce(project, (draft) => {
			for (const { thing, field, samples } of this.tracks.values()) {
				const value = samples.at(-1)?.value;
				const target = thingIn(draft, thing) as Record<string, unknown> | undefined;
				if (value && target) target[field] = [...value];
			}
		});
	}

	into(run: Run): Run {
		const recorded = withRecording(run, [...this.tracks.values()]);
		return this.plain.reduce((next, { t, changes }) => withKeys(next, t, changes), recorded);
	}

	get isEmpty(): boolean {
		return this.tracks.size === 0 && this.plain.length === 0;
	}
}

function thingIn({ scene, queries }: Project, thing: TrackTarget): object | undefined {
	if ('object' in thing) return scene.objects.find((o) => o.id === thing.object);
	if ('camera' in thing) return scene.cameras.find((c) => c.id === thing.camera);
	if ('query' in thing) return queries.find((q) => q.id === thing.query);
	return scene;
}

export interface Instant {
	/** The bench that stands at the instant. */
	bench: BenchStore;
	/** Seconds. */
	at: () => number;
	/** Stands at another instant, or again at this one, where the run has become another. */
	to: (t: number) => void;
	/** What the run is, and what effects set in it. */
	follow: (project: Project, run: Run, standing: readonly StateAtTime[]) => void;
	record: () => void;
	/** @returns whether anything was recorded; it is one step of the history */
	stop: () => boolean;
	recording: () => boolean;
}

/** @param main the bench of the open project, to which all edits go */
export function createInstant(main: BenchStore, project: Project, run: Run): Instant {
	let instants = new RunInstants(project, run);
	let t = 0;
	let recorder: Recorder | null = null;
	/** Before the gesture that is under way. */
	let before: Project | null = null;
	const bench: BenchStore = createBench(main.getState().key, instants.at(0), {
		// The stage is lower here: what is in hand is said beside it.
		cardSide: 'queries',
		edit(label, recipe) {
			const seen = bench.getState().project;
			const next = produce(seen, recipe);
			if (next === seen) return;
			if (next.runs !== seen.runs) tryRuns(next);
			else if (bench.getState().gesture && !recorder) stand(next);
			else commit(label, seen, next);
		},
		put: (label, next) => commit(label, bench.getState().project, next),
		editPlain: main.getState().editPlain,
		beginGesture(label) {
			if (bench.getState().gesture) return;
			before = bench.getState().project;
			bench.getState().hold({ label, before });
		},
		endGesture() {
			const { gesture, project: now } = bench.getState();
			bench.getState().hold(null);
			if (gesture && before && now.runs !== before.runs) putRuns(gesture.label, now.runs);
			else if (gesture && before && !recorder) commit(gesture.label, before, now);
			before = null;
		},
		cancelGesture() {
			const was = before;
			bench.getState().hold(null);
			before = null;
			if (was && !recorder) stand(was);
		},
		undo: main.getState().undo,
		redo: main.getState().redo,
		show: main.getState().show,
		refuse: main.getState().refuse,
		dockAt: main.getState().dockAt,
	});
	const { stand } = bench.getState();

	const commit = (label: string, seen: Project, next: Project) => {
		if (seen === next) return;
		const changes = keyChanges(seen, next);
		if (recorder) {
			recorder.note(t, changes, (thing, field) => {
				const value = (thingIn(seen, thing) as Record<string, unknown> | undefined)?.[field];
				return (value ?? (field === 'cursor' ? undefined : [0, 0, 0])) as number[] | undefined;
			});
			// What no key can hold is no part of the recording: it is written at once.
			const own = main.getState().project;
			const laid = beyondKeys(own, seen, next);
			if (laid !== own) main.getState().put(label, laid);
			stand(next);
			return;
		}
		const at = Number(t.toFixed(6));
		const own = main.getState().project;
		const laid = beyondKeys(own, seen, next);
		const runs = (laid.runs ?? []).map((r) => (r.id === run.id ? withKeys(r, at, changes) : r));
		main.getState().put(label, changes.length > 0 ? { ...laid, runs } : laid);
		// Where it was refused, all is as it was.
		if (main.getState().project === own) stand(seen);
		else follow(main.getState().project, runIn(main.getState().project), instants.standing);
	};
	/** Shows the scene as it would stand if the run were another, while a key is pulled. */
	const tryRuns = ({ runs }: Project) => {
		const other = runs?.find((r) => r.id === run.id);
		if (!other) return;
		if (!bench.getState().gesture) return putRuns('Keys', runs);
		const there = new RunInstants({ ...main.getState().project, runs }, other, instants.standing).at(t);
		stand(there);
	};
	const putRuns = (label: string, runs: Project['runs']) => {
		const own = main.getState().project;
		main.getState().put(label, { ...own, ...(runs ? { runs } : {}) });
		follow(main.getState().project, runIn(main.getState().project), instants.standing);
	};
	const runIn = (of: Project): Run => of.runs?.find((r) => r.id === run.id) ?? run;
	const follow = (of: Project, now: Run, standing: readonly StateAtTime[]) => {
		run = now;
		instants = new RunInstants(of, now, standing);
		to(t);
	};
	const to = (next: number) => {
		t = next;
		recorder?.hold(t);
		const { gesture } = bench.getState();
		// What the hand holds is not taken from it, but where it records.
		if (gesture && !recorder) return;
		const there = instants.at(t);
		stand(recorder ? recorder.over(there) : there);
	};
	return {
		bench,
		at: () => t,
		to,
		follow,
		recording: () => recorder !== null,
		record() {
			recorder = new Recorder();
		},
		stop() {
			const made = recorder;
			recorder = null;
			if (!made || made.isEmpty) {
				to(t);
				return false;
			}
			const own = main.getState().project;
			const runs = (own.runs ?? []).map((r) => (r.id === run.id ? made.into(r) : r));
			main.getState().put('Record', { ...own, runs });
			follow(main.getState().project, runIn(main.getState().project), instants.standing);
			return true;
		},
	};
}
