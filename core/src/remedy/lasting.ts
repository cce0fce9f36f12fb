/** Checks of runs and of maps before and after a change. They take far longer than those of single answers: only what a change reaches is asked. */
import { askMap, judgeMap, type MapResult } from '../map/map';
import { isOn, mapChecksIn, runChecksIn } from '../project/check-kinds';
import { Dependencies } from '../project/dependencies';
import type { MapCheck, Project, QueryMap, Run, RunCheck } from '../project/schema';
import { checkRuns } from '../run/check';

const queriesOf = (run: Run): string[] => [...(run.watch ?? []), ...(run.swings ?? [])].map((w) => w.query);

/** The checks of runs and of maps of a project, against which changes of it are held. */
export class LastingChecks {
	private readonly held = new Map<string, boolean>();
	private readonly ground: Dependencies;

	constructor(private readonly project: Project) {
		this.ground = new Dependencies(project);
	}

	/** @returns ids of the checks that no longer hold after a change, and of those that hold only after it, in file order */
	turned(after: Project): { turns: string[]; mends: string[] } {
		const { project } = this;
		const ground = new Dependencies(after);
		const reached = (of: Run | QueryMap, queries: string[]) => !ground.sameAs(this.ground, of.moment ?? null, queries);
		const runIds = new Set((project.runs ?? []).filter((r) => reached(r, queriesOf(r))).map((r) => r.id));
		const mapIds = new Set((project.maps ?? []).filter((m) => reached(m, [m.query])).map((m) => m.id));
		const runs = runChecksIn(project).filter((check) => isOn(check) && runIds.has(check.run));
		const maps = mapChecksIn(project).filter((check) => isOn(check) && mapIds.has(check.map));
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

function judged(project: Project, runs: readonly RunCheck[], maps: readonly MapCheck[]): Map<string, boolean> {
	const asked = new Map<string, MapResult>();
	const passed = new Map(checkRuns(project, runs).map((r) => [r.id, r.pass]));
	for (const check of maps) {
		const map = project.maps?.find((m) => m.id === check.map);
		if (!map) throw new RangeError(`no map "${check.map}"`);
		// No check is held against what is never selected, which takes longest to say.
		const result = asked.get(map.id) ?? askMap(project, map, { never: false });
		asked.set(map.id, result);
		passed.set(check.id, judgeMap(project, check, result).pass);
	}
	return passed;
}
