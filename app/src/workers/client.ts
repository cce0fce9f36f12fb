/** Jobs given to a worker: each can be cancelled, and tells how far it is. */
import type {
	CheckResult,
	Finding,
	MapCheckResult,
	MapResult,
	Project,
	QuickAnswer,
	Reading,
	Remedies,
	Remedy,
	Robustness,
	RunCheckResult,
	RunResult,
	Standing,
	Wish,
} from '@frelk/core';
import { proxy, type Remote, wrap } from 'comlink';
import { textOf } from '../data/text';
import type { Heavy } from './heavy';
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

function start<T>(work: (heavy: Remote<Heavy>) => Promise<T>): Job<T> {
	const hand = idle ?? hire();
	idle = null;
	let cancelled = false;
	let settle: (error: Error) => void = () => {};
	const done = new Promise<T>((resolve, reject) => {
		settle = reject;
		hand.worker.addEventListener(
			'error',
			(event) => reject(new Error(event.message || 'the worker could not be started')),
			{ once: true },
		);
		work(hand.heavy).then(resolve, reject);
	}).finally(() => {
		if (cancelled || idle) hand.worker.terminate();
		else idle = hand;
	});
	return {
		done,
		cancelled: () => cancelled,
		cancel: () => {
			if (cancelled) return;
			cancelled = true;
			settle(new Error('cancelled'));
		},
	};
}

const none = () => {};

export const checksIn = (
	project: Project,
	ids: readonly string[],
	progress: (done: number) => void = none,
): Job<CheckResult[]> => start((heavy) => heavy.checks(textOf(project), ids, proxy(progress)));
export const answersIn = (project: Project, progress: (done: number) => void = none): Job<QuickAnswer[]> =>
	start((heavy) => heavy.answers(textOf(project), proxy(progress)));
export const robustnessIn = (
	project: Project,
	ids: readonly string[],
	progress: (done: number) => void = none,
): Job<Robustness[]> => start((heavy) => heavy.robustness(textOf(project), ids, proxy(progress)));
export const runIn = (
	project: Project,
	id: string,
	progress: (done: number) => void = none,
): Job<{ result: RunResult; standing: Standing[] }> =>
	start((heavy) => heavy.run(textOf(project), id, proxy(progress)));
export const otherChecksIn = (
	project: Project,
	progress: (done: number) => void = none,
): Job<(RunCheckResult | MapCheckResult)[]> => start((heavy) => heavy.otherChecks(textOf(project), proxy(progress)));
export const remediesIn = (project: Project, wish: Wish, found: (remedy: Remedy) => void): Job<Remedies> =>
	start((heavy) => heavy.remedies(textOf(project), wish, proxy(found)));
export const mapIn = (project: Project, id: string, progress: (done: number, of: number) => void): Job<MapResult> =>
	start((heavy) => heavy.map(textOf(project), id, proxy(progress)));
export const findingsIn = (project: Project, progress: (rule: string) => void = none): Job<Finding[]> =>
	start((heavy) => heavy.findings(textOf(project), proxy(progress)));
export const tryOutIn = (text: string): Job<Extract<Reading, { ok: false }> | null> =>
	start((heavy) => heavy.tryOut(text));
export const pictureIn = (text: string): Job<ReturnType<typeof pictureOfText>> => start((heavy) => heavy.picture(text));
