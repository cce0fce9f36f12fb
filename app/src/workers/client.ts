/** Jobs given to a worker: each can be cancelled, and tells how far it is. */
import type {
	CheckResult,
	Earlier,
	Finding,
	LeastChange,
	Project,
	QueryMap,
	QuickAnswer,
	Reading,
	Remedies,
	Remedy,
	Robustness,
	Wish,
} from '@frelk/core';
import type { DifferenceTold } from '@frelk/core/differences';
import type { MapCheckResult, MapResult } from '@frelk/core/maps';
import { mapGrid } from '@frelk/core/maps';
import type { RunCheckResult, RunResult, StateAtTime } from '@frelk/core/runs';
import { proxy, type Remote, releaseProxy, wrap } from 'comlink';
import { textOf } from '../data/text';
import type { FoundRemedies, Heavy } from './heavy';
import type { pictureOfText } from './picture';

interface Job<T> {
	done: Promise<T>;
	cancel: () => void;
	cancelled: () => boolean;
}

/** A worker with its one proxy: a proxy that is collected closes its worker, so it lives as long. */
interface Hand {
	worker: Worker;
	heavy: Remote<Heavy>;
}

/** Kept for the next job: starting a worker costs more than most jobs. */
let idle: Hand | null = null;

function hire(): Hand {
	const worker = new Worker(new URL('./heavy.ts', import.meta.url), { type: 'module', name: 'frelk-heavy' });
	return { worker, heavy: wrap<Heavy>(worker) };
}

function dismiss({ worker, heavy }: Hand): void {
	// Else the worker is held until its proxy is collected, which may be never.
	heavy[releaseProxy]();
	worker.terminate();
}

/** Has a worker ready for a job that is likely to come: the hand is on its way to what begins it. */
export function makeReady(): void {
	idle ??= hire();
}

/**
 * What a job tells while it works: each listener has a channel of its own, which may be slower than the outcome's. What comes after the
 * job is over is not heard any more.
 */
type Hearing = <Given extends unknown[]>(hear: (...given: Given) => void) => (...given: Given) => void;

function start<T>(work: (heavy: Remote<Heavy>, heard: Hearing) => Promise<T>): Job<T> {
	const hand = idle ?? hire();
	idle = null;
	let cancelled = false;
	let over = false;
	const heard: Hearing = (hear) =>
		proxy((...given) => {
			if (!over) hear(...given);
		});
	let settle: (error: Error) => void = () => {};
	const broke = (event: ErrorEvent) => settle(new Error(event.message || 'the worker could not be started'));
	hand.worker.addEventListener('error', broke);
	const done = new Promise<T>((resolve, reject) => {
		settle = reject;
		work(hand.heavy, heard)
			.finally(() => {
				over = true;
			})
			.then(resolve, reject);
	}).finally(() => {
		hand.worker.removeEventListener('error', broke);
		if (cancelled || idle) dismiss(hand);
		else idle = hand;
	});
	return {
		done,
		cancelled: () => cancelled,
		cancel: () => {
			if (cancelled) return;
			cancelled = over = true;
			settle(new Error('cancelled'));
		},
	};
}

const none = () => {};

export const checksIn = (
	project: Project,
	ids: readonly string[],
	progress: (done: number) => void = none,
): Job<CheckResult[]> => start((heavy, heard) => heavy.checks(textOf(project), ids, heard(progress)));
export const answersIn = (project: Project, progress: (done: number) => void = none): Job<QuickAnswer[]> =>
	start((heavy, heard) => heavy.answers(textOf(project), heard(progress)));
export const differenceIn = (
	before: Project,
	after: Project,
	doing: (what: string) => void = none,
): Job<DifferenceTold> => start((heavy, heard) => heavy.difference(textOf(before), textOf(after), heard(doing)));
export const differencePageIn = (before: Project, after: Project): Job<string> =>
	start((heavy) => heavy.differencePage(textOf(before), textOf(after)));
export const robustnessIn = (
	project: Project,
	ids: readonly string[],
	progress: (done: number) => void = none,
): Job<Robustness[]> => start((heavy, heard) => heavy.robustness(textOf(project), ids, heard(progress)));
export const runIn = (
	project: Project,
	id: string,
	progress: (done: number) => void = none,
): Job<{ result: RunResult; standing: StateAtTime[] }> =>
	start((heavy, heard) => heavy.run(textOf(project), id, heard(progress)));
export const otherChecksIn = (
	project: Project,
	progress: (done: number) => void = none,
): Job<(RunCheckResult | MapCheckResult)[]> =>
	start((heavy, heard) => heavy.otherChecks(textOf(project), heard(progress)));
export const remediesIn = (
	project: Project,
	wish: Wish,
	earlier: readonly Earlier[],
	found: (remedy: Remedy) => void,
	all: (remedies: readonly Remedy[]) => void,
): Job<Remedies> =>
	start((heavy, heard) =>
		heavy.remedies(
			textOf(project),
			wish,
			earlier,
			// One channel for both: in two, one that was found could come after all of them.
			heard((told: FoundRemedies) => ('all' in told ? all(told.all) : found(told.found))),
		),
	);
export const changesIn = (project: Project, query: string, moment: string | null): Job<LeastChange[]> =>
	start((heavy) => heavy.changes(textOf(project), query, moment));
/** Answers from which on a map is asked by several workers, and how many at most. */
const MANY = 100_000;
const HANDS = 4;

/** A map of a project, kept in it or not: a large one by several workers, with the same outcome. */
export function mapIn(
	project: Project,
	map: QueryMap,
	progress: (done: number, of: number) => void = none,
): Job<MapResult> {
	const grid = mapGrid(project, map);
	const rows = grid?.rows ?? 1;
	const hands = grid && grid.columns * rows * grid.headings >= MANY ? Math.min(HANDS, rows, processors()) : 1;
	const text = textOf(project);
	if (hands <= 1) return start((heavy, heard) => heavy.map(text, map, heard(progress)));
	let jobs: { cancel: () => void }[] = [];
	let cancelled = false;
	let done = 0;
	const parts = Array.from({ length: hands }, (_, i) => {
		const [from, to] = [Math.floor((i * rows) / hands), Math.floor(((i + 1) * rows) / hands)];
		let before = from - 1;
		return start((heavy, heard) =>
			heavy.mapPart(
				text,
				map,
				from,
				to,
				heard((row: number) => {
					done += row - before;
					before = row;
					progress(done, rows);
				}),
			),
		);
	});
	jobs = parts;
	const whole = Promise.all(parts.map((part) => part.done)).then((list) => {
		if (cancelled) throw new Error('cancelled');
		const joined = start((heavy) => heavy.mapJoined(text, map, list));
		jobs = [joined];
		return joined.done;
	});
	return {
		done: whole,
		cancel: () => {
			cancelled = true;
			for (const job of jobs) job.cancel();
		},
		cancelled: () => cancelled,
	};
}

const processors = (): number => globalThis.navigator?.hardwareConcurrency ?? 1;

export const findingsIn = (project: Project, progress: (rule: string) => void = none): Job<Finding[]> =>
	start((heavy, heard) => heavy.findings(textOf(project), heard(progress)));
export const tryOutIn = (text: string): Job<Extract<Reading, { ok: false }> | null> =>
	start((heavy) => heavy.tryOut(text));
export const standingIn = (text: string): Job<Awaited<ReturnType<Heavy['standing']>>> =>
	start((heavy) => heavy.standing(text));
export const pictureIn = (text: string): Job<ReturnType<typeof pictureOfText>> => start((heavy) => heavy.picture(text));
