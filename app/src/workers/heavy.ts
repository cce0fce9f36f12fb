/** The worker in which long computations run: the page stays free, and a job is ended by ending its worker. */
import {
	Answerer,
	answersAt,
	buildWorld,
	byName,
	type CheckResult,
	type Earlier,
	type Finding,
	FindingsMemory,
	findFindings,
	type LeastChange,
	leastChanges,
	type Project,
	type QueryMap,
	type QuickAnswer,
	type Reading,
	type Remedies,
	type Remedy,
	type Robustness,
	readProject,
	remediesFor,
	robustnessOf,
	runChecks,
	stillChecks,
	type Wish,
} from '@frelk/core';
import { type DifferenceTold, differenceOf, htmlDifference, toldDifference } from '@frelk/core/differences';
import {
	askMap,
	askRows,
	checkMaps,
	joinedParts,
	MapAsker,
	type MapCheckResult,
	MapMemory,
	type MapPart,
	type MapResult,
	resultOf,
} from '@frelk/core/maps';
import { checkRuns, type RunCheckResult, type RunResult, runThrough, type StateAtTime } from '@frelk/core/runs';
import { expose } from 'comlink';
import type { Picture } from '../data/db';
import { pictureOfText } from './picture';
import { released } from './released';

/** Projects come as text: a string crosses to a worker at once, a tree is copied piece by piece. */
const opened = (text: string): Project => JSON.parse(text) as Project;

/** What is told while remedies are looked for: each as it is found, then all that are kept. */
export type FoundRemedies = { found: Remedy } | { all: readonly Remedy[] };

/** Of the last look: this worker lives on between jobs, and asks again what an edit reaches. */
const mapMemory = new MapMemory();
const findingsMemory = new FindingsMemory(mapMemory);

const heavy = {
	/**
	 * Reads a project and answers its queries once, as the page will: whatever that takes, it takes here first.
	 * @returns what is wrong with it; null when it can be opened
	 */
	tryOut(text: string): Extract<Reading, { ok: false }> | null {
		const reading = readProject(text);
		if (!reading.ok) return reading;
		const world = buildWorld(reading.project);
		const answerer = new Answerer(world);
		world.queries.forEach((query, i) => {
			if (i === 0) answerer.explain(query, [], true);
			else answerer.winner(query);
		});
		return null;
	},
	/** A drawing of a project's scene. */
	picture: pictureOfText,
	/** Runs checks by id, telling how many are done. */
	checks(text: string, ids: readonly string[], progress: (done: number) => void): CheckResult[] {
		const project = opened(text);
		const wanted = new Set(ids);
		const checks = stillChecks(project).filter((c) => wanted.has(c.id));
		return runChecks(project, checks, progress, true);
	},
	/** Every query's answer at every moment. */
	answers(text: string, progress: (done: number) => void): QuickAnswer[] {
		return answersAt(opened(text), progress);
	},
	/** What a change does, in words; and as a page to print. */
	difference(before: string, after: string, doing: (what: string) => void): DifferenceTold {
		const [old, now] = [opened(before), opened(after)];
		return toldDifference(old, now, differenceOf(old, now, { doing }));
	},
	differencePage(before: string, after: string): string {
		const [old, now] = [opened(before), opened(after)];
		const difference = differenceOf(old, now);
		return htmlDifference(old, now, difference, toldDifference(old, now, difference));
	},
	/** A run-through, by its id, telling how many steps are done. */
	run(text: string, id: string, progress: (done: number) => void): { result: RunResult; standing: StateAtTime[] } {
		const project = opened(text);
		const run = project.runs?.find((r) => r.id === id);
		if (!run) throw new RangeError(`no run "${id}"`);
		const standing: StateAtTime[] = [];
		const result = runThrough(project, run, { progress, standing: (one) => void standing.push(one) });
		return { result, standing };
	},
	/** All checks of runs and of maps. */
	otherChecks(text: string, progress: (done: number) => void): (RunCheckResult | MapCheckResult)[] {
		const project = opened(text);
		return [...checkRuns(project, undefined, progress), ...checkMaps(project, undefined, undefined, mapMemory)];
	},
	/** What home tells of a project in a file: its name, and how its checks stand; null where it is no project. */
	standing(text: string): NonNullable<Picture['standing']> | null {
		const reading = readProject(text);
		if (!reading.ok) return null;
		const { project } = reading;
		const results = [...runChecks(project), ...checkRuns(project), ...checkMaps(project)];
		const hold = results.filter((r) => r.pass).length;
		return { name: project.name, hold, fail: results.length - hold };
	},
	/** A map of a project, telling how many rows are done. */
	map(text: string, map: QueryMap, progress: (done: number, of: number) => void): MapResult {
		return askMap(opened(text), map, { progress });
	},
	/** Some rows of a map. */
	mapPart(text: string, map: QueryMap, from: number, to: number, progress: (row: number) => void): MapPart {
		return askRows(new MapAsker(opened(text), map), from, to, progress);
	},
	/** A map of its parts. */
	mapJoined(text: string, map: QueryMap, parts: readonly MapPart[]): MapResult {
		const asker = new MapAsker(opened(text), map);
		return resultOf(asker, joinedParts(asker, parts));
	},
	/** Changes that make a wish come true, each told as it is found, and all before they are held against runs and maps. */
	remedies(text: string, wish: Wish, earlier: readonly Earlier[], tell: (told: FoundRemedies) => void): Remedies {
		const project = opened(text);
		return remediesFor(project, wish, {
			naming: byName(project),
			earlier,
			found: (found) => tell({ found }),
			all: (all) => tell({ all }),
		});
	},
	/** What would change an answer with the least. */
	changes(text: string, query: string, moment: string | null): LeastChange[] {
		return leastChanges(opened(text), query, moment);
	},
	/** What is wrong with a project, or worth a look. */
	findings(text: string, progress: (rule: string) => void): Finding[] {
		const project = opened(text);
		return findFindings(project, byName(project), progress, findingsMemory);
	},
	/** How far each check may be perturbed before its answer changes. */
	robustness(text: string, ids: readonly string[], progress: (done: number) => void): Robustness[] {
		const project = opened(text);
		return ids.map((id, i) => {
			const found = robustnessOf(project, id);
			progress(i + 1);
			return found;
		});
	},
};

export type Heavy = typeof heavy;
expose(released(heavy));
