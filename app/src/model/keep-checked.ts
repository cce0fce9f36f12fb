/** The checks, run anew in a worker shortly after each change: a drag is never held up by them. */
import { activeChecks, isOn, mapChecksIn, runChecksIn } from '@frelk/core';
import { checksIn, otherChecksIn } from '../workers/client';
import type { BenchStore } from './bench-state';
import { affectedChecks, type CheckState, summed } from './check-results';

/** How long nothing must have changed before the checks of runs and maps are run, milliseconds. */
const REST = 700;

/** Runs the checks after changes for as long as the bench is open, and leaves the results in its store. @returns a function that stops it */
export function keepChecked(store: BenchStore, done: (state: CheckState) => void): () => void {
	let timer: ReturnType<typeof setTimeout> | null = null;
	let cancel = () => {};
	const failed = (job: { cancelled: () => boolean }) => (error: unknown) => {
		if (!job.cancelled()) console.error('the checks could not be run', error);
	};
	const run = () => {
		timer = null;
		cancel();
		const { project, checked: state, setChecked } = store.getState();
		const active = activeChecks(project);
		const timed = [...runChecksIn(project), ...mapChecksIn(project)].filter(isOn);
		if (active.length === 0 && timed.length === 0) return setChecked(null);
		const affected = affectedChecks(state?.project ?? null, project);
		const kept = new Map(state?.results.map((r) => [r.id, r]));
		const ids = active.filter((c) => affected.has(c.id) || !kept.has(c.id)).map((c) => c.id);
		const job = checksIn(project, ids);
		cancel = job.cancel;
		job.done.then((fresh) => {
			for (const r of fresh) kept.set(r.id, r);
			const still = active.flatMap((c) => kept.get(c.id) ?? []);
			if (timed.length === 0) {
				const next = summed(project, still);
				setChecked(next);
				return done(next);
			}
			// Those of runs and maps take longer: until then they stand as they stood.
			const ids = new Set(timed.map((c) => c.id));
			const stood = (state?.overTime ?? []).filter((r) => ids.has(r.id));
			setChecked(summed(project, still, stood, timed.length - stood.length));
			// They are run when the hand rests: what it moves next wants the machine first.
			const resting = setTimeout(() => {
				const over = otherChecksIn(project);
				cancel = over.cancel;
				over.done.then((results) => {
					const next = summed(project, still, results);
					setChecked(next);
					done(next);
				}, failed(over));
			}, REST);
			cancel = () => clearTimeout(resting);
		}, failed(job));
	};
	run();
	const stop = store.subscribe((now, before) => {
		// While a gesture is under way the answers follow; the checks are run when it ends.
		if (now.gesture !== null || (now.project === before.project && before.gesture === null)) return;
		if (timer !== null) clearTimeout(timer);
		cancel();
		timer = setTimeout(run, 150);
	});
	return () => {
		stop();
		if (timer !== null) clearTimeout(timer);
		cancel();
		store.getState().setChecked(null);
	};
}
