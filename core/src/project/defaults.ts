/** What queries and runs mean where the file leaves it out, and the steps of a run. Asked by the file's own rules and by all above them. */
import type { Query, Run, WatchEntry } from './types';

/** Times are compared to within this, seconds: nearer is the same instant. */
export const TIME_EPSILON = 1e-9;

/** Of an arc, where the file leaves it out: m/s², seconds, seconds. */
export const ARC = { gravity: 9.81, time: 5, step: 1 / 60 };

/** @returns of how many straight pieces an arc is made */
export const arcSteps = ({ time, step }: { time: number; step: number }): number =>
	Math.floor(time / step + TIME_EPSILON);

/** How far above and below its base a volume is borne, where a file does not say, metres. */
export const BORNE_WITHIN = 0.05;

/** @returns how many objects a query takes: a number or all of them */
export const takeOf = (query: Query): number | 'all' => query.choose?.take ?? (query.kind === 'hitbox' ? 'all' : 1);

/** @returns the id of a watch entry: its own, or its query's */
export const watchId = (entry: WatchEntry): string => entry.id ?? entry.query;

/** Parts into which the time from a step to the next is cut to look between them, where a run does not say. */
export const SUBSTEPS = 8;

/** @returns the number of the last step at or before a time, seconds */
export const stepAt = ({ step }: Pick<Run, 'step'>, t: number): number => Math.floor(t / step + TIME_EPSILON);

/** @returns the number of a run's last step */
export const lastStep = (run: Pick<Run, 'duration' | 'step'>): number => stepAt(run, run.duration);
