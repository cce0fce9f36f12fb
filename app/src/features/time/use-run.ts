/** A run as it goes in the project as it stands, worked out in a worker; the one of before until then. */
import type { Project, Run } from '@frelk/core';
import type { RunResult, StateAtTime } from '@frelk/core/runs';
import { useEffect, useRef, useState } from 'react';
import { runIn } from '../../workers/client';

export interface Ran {
	result: RunResult;
	standing: StateAtTime[];
}

/**
 * @param held while something is pulled nothing is worked out
 * @returns what came of it, how many steps are done where it is under way, and why it could not be worked out
 */
export function useRun(project: Project, run: Run | undefined, held = false) {
	const [ran, setRan] = useState<(Ran & { run: string }) | null>(null);
	const [done, setDone] = useState<number | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	const stop = useRef(() => {});
	useEffect(() => {
		if (!run || held) return;
		setTrouble(null);
		// What a worker told on the way may come after its result.
		let over = false;
		const job = runIn(project, run.id, (steps) => !over && setDone(steps));
		stop.current = () => {
			job.cancel();
			setTrouble('it was stopped');
		};
		job.done
			.then(
				(all) => setRan({ ...all, run: run.id }),
				(error) => !job.cancelled() && setTrouble(error instanceof Error ? error.message : String(error)),
			)
			.finally(() => {
				over = true;
				setDone(null);
			});
		return job.cancel;
	}, [project, run, held]);
	return { ran: ran && run && ran.run === run.id ? ran : null, done, trouble, stop: () => stop.current() };
}
