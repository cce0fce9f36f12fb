/** Checks of runs and of maps before and after a change. They take far longer than those of single answers: only what a change reaches is asked. */
import { checkMaps } from '../map/map';
import { isOn, mapChecksIn, runChecksIn } from '../project/check-kinds';
import { momentChain } from '../project/moment';
import type { MapCheck, Moment, Project, Query, QueryMap, Run, RunCheck } from '../project/schema';
import { checkRuns } from '../run/check';

/** What a run or a map stands on. */
interface Ground {
	moment: string | null;
	queries: ReadonlySet<string>;
}

const groundOfMap = (map: QueryMap): Ground => ({ moment: map.moment ?? null, queries: new Set([map.query]) });

const groundOfRun = (run: Run): Ground => ({
	moment: run.moment ?? null,
	queries: new Set([...(run.watch ?? []), ...(run.swings ?? [])].map((w) => w.query)),
});

const sameEntries = <T>(a: readonly T[], b: readonly T[]): boolean =>
	a.length === b.length && a.every((entry, i) => entry === b[i]);

/** What may change without a run or a map hearing of it, unless it names it. */
const LISTS = new Set(['queries', 'moments', 'runs', 'maps', 'checks']);

/** Whether a change reaches what stands on this ground; what the change left as it was is known by being the very same object. */
function reaches(before: Project, after: Project, { moment, queries }: Ground): boolean {
	const keys = Object.keys({ ...before, ...after }) as (keyof Project)[];
	if (keys.some((key) => !LISTS.has(key) && before[key] !== after[key])) return true;
	const used = (project: Project): Query[] => project.queries.filter((q) => queries.has(q.id));
	const chain = (project: Project): Moment[] => (moment === null ? [] : momentChain(project, moment));
	return !sameEntries(used(before), used(after)) || !sameEntries(chain(before), chain(after));
}

/** The checks of runs and of maps of a project, against which changes of it are held. */
export class LastingChecks {
	private readonly held = new Map<string, boolean>();

	constructor(private readonly project: Project) {}

	/**
	 * @param after the project changed, with what was left as it was being the same objects
	 * @returns ids of the checks that no longer hold with it, and of those that hold only with it, in file order
	 */
	turned(after: Project): { turns: string[]; mends: string[] } {
		const { project } = this;
		const ground = new Map<string, boolean>();
		const reached = (kind: 'run' | 'map', of: Ground | null, id: string): boolean => {
			const key = `${kind} ${id}`;
			if (!ground.has(key)) ground.set(key, of !== null && reaches(project, after, of));
			return ground.get(key) as boolean;
		};
		const runs = runChecksIn(project).filter((check) => {
			const run = project.runs?.find((r) => r.id === check.run);
			return isOn(check) && reached('run', run ? groundOfRun(run) : null, check.run);
		});
		const maps = mapChecksIn(project).filter((check) => {
			const map = project.maps?.find((m) => m.id === check.map);
			return isOn(check) && reached('map', map ? groundOfMap(map) : null, check.map);
		});
		this.judge(
			runs.filter((c) => !this.held.has(c.id)),
			maps.filter((c) => !this.held.has(c.id)),
		);
		const now = judged(after, runs, maps);
		const turned = (to: boolean) =>
			(project.checks ?? []).map((c) => c.id).filter((id) => now.get(id) === to && this.held.get(id) === !to);
		return { turns: turned(false), mends: turned(true) };
	}

	private judge(runs: readonly RunCheck[], maps: readonly MapCheck[]): void {
		for (const [id, pass] of judged(this.project, runs, maps)) this.held.set(id, pass);
	}
}

const judged = (project: Project, runs: readonly RunCheck[], maps: readonly MapCheck[]): Map<string, boolean> =>
	new Map([...checkRuns(project, runs), ...checkMaps(project, maps)].map((r) => [r.id, r.pass]));
