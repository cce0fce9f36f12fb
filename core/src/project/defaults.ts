/** What queries and runs mean where the file leaves it out, and the steps of a run. Asked by the file's own rules and by all above them. */
import type { Query, Run, WatchEntry } from './schema';

/** Times are compared to within this, seconds: nearer is the same instant. */
export const TIME_EPSILON = 1e-9;

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
