/** Maps that were asked, kept over edits: checks, findings and reports of one project ask each once. */
import { isOn, mapChecksIn } from '../project/check-kinds';
import { Dependencies } from '../project/dependencies';
import type { MapCheck, Project, QueryMap } from '../project/schema';
import { askMap, judgeMap, type MapCheckResult, type MapOptions, type MapResult } from './map';

/** What maps found. Given to the next look at a project after an edit, only those that the edit reaches are asked again. */
export class MapMemory {
	private project: Project | null = null;
	private ground: Dependencies | null = null;
	/** By the map as JSON: one that is edited is another. */
	private readonly known = new Map<string, MapResult>();
	/** How many maps were asked; what was there already does not count. */
	made = 0;

	/**
	 * Turns to a project: what was asked of the one before stays where it stands on the same.
	 * @param ground of the project, where it was made already
	 */
	turnTo(project: Project, ground: Dependencies = new Dependencies(project)): void {
		if (this.project === project) return;
		const { ground: before } = this;
		for (const key of this.known.keys()) {
			const map = project.maps?.find((m) => JSON.stringify(m) === key);
			if (!map || !before || !ground.sameAs(before, map.moment ?? null, [map.query])) this.known.delete(key);
		}
		this.project = project;
		this.ground = ground;
	}

	/**
	 * @param map one of the project that was last turned to
	 * @returns what it found, asked now unless that is known
	 * @throws RangeError without a project to ask it of
	 */
	result(map: QueryMap, options: MapOptions = {}): MapResult {
		if (!this.project) throw new RangeError('no project to ask the map of');
		const key = JSON.stringify(map);
		let result = this.known.get(key);
		if (!result) {
			result = askMap(this.project, map, options);
			this.made++;
			this.known.set(key, result);
		}
		return result;
	}

	/** All that is known of the project, in the order in which it was asked. */
	get results(): readonly MapResult[] {
		return [...this.known.values()];
	}
}

/**
 * Runs checks of maps, each map asked once.
 * @param checks by default all that are not switched off
 * @param memory of maps asked before; holds them afterwards
 * @throws RangeError for a check of a map that is not there
 */
export function checkMaps(
	project: Project,
	checks: readonly MapCheck[] = mapChecksIn(project).filter(isOn),
	progress: (map: string, done: number, of: number) => void = () => {},
	memory: MapMemory = new MapMemory(),
	judged: (id: string) => void = () => {},
): MapCheckResult[] {
	memory.turnTo(project);
	return checks.map((check) => {
		const map = project.maps?.find((m) => m.id === check.map);
		if (!map) throw new RangeError(`no map "${check.map}"`);
		const result = memory.result(map, { progress: (done, of) => progress(map.id, done, of) });
		const outcome = judgeMap(project, check, result);
		judged(check.id);
		return outcome;
	});
}
