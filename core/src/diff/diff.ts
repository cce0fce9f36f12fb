/**
 * What a change does: two states of a project held against each other. Only what the edit reaches is asked, and only what it answers
 * otherwise is told.
 */
import { activeChecks, runChecks } from '../checks/check';
import { type AnswerChange, changesBetween, quickAnswer } from '../checks/survey';
import type { Finding } from '../findings/finding';
import { findFindings } from '../findings/rules';
import { compareMaps, type Handed } from '../map/compare';
import type { MapFigures, ObjectFigures } from '../map/figures';
import { checkMaps, MapMemory } from '../map/memory';
import { isOn, mapChecksIn, runChecksIn } from '../project/check-kinds';
import { watchId } from '../project/defaults';
import { Dependencies } from '../project/dependencies';
import type { AnyCheck, Project, QueryMap, Run } from '../project/schema';
import { Answerer } from '../query/answer';
import type { Verdict } from '../query/types';
import { checkRuns } from '../run/check';
import type { RunEvent, RunResult } from '../run/events';
import { runThrough } from '../run/run';
import { buildWorld } from '../world/world';
import { alignedTo, type Edit, editsBetween, renamingsBetween } from './edits';

/** An answer that is another one now, and why the first that it no longer selects lost. */
export interface AnswerDifference extends AnswerChange {
	/** The verdict, now, on the first object that was selected and is not; null where there is none. */
	lost: Verdict | null;
}

/** A check that holds or fails otherwise than before; null where it was not there, or is not any more. */
export interface CheckDifference {
	check: string;
	before: 'holds' | 'fails' | null;
	after: 'holds' | 'fails' | null;
}

/** A run-through that goes otherwise. */
export interface RunDifference {
	run: string;
	/** The first event that is not in the other; null where one ends before. */
	before: RunEvent | null;
	after: RunEvent | null;
	/** Seconds. */
	t: number;
	/** Of the watch entries and swings that differ. */
	figures: { of: string; what: 'changes' | 'missed'; before: number; after: number }[];
}

/** A map that is another one. */
export interface MapDifference {
	map: string;
	/** How many answers differ, of how many; null where the grids cannot be compared. */
	differ: number | null;
	answers: number;
	handed: Handed[];
	/** Of objects whose figures differ; null where it is selected nowhere. */
	figures: { object: string; before: ObjectFigures | null; after: ObjectFigures | null }[];
	/** Ids that are never selected now, and those that were. */
	neverNow: string[];
	neverBefore: string[];
}

/** All that two states of a project differ in. */
export interface ProjectDifference {
	edits: Edit[];
	answers: AnswerDifference[];
	checks: CheckDifference[];
	runs: RunDifference[];
	maps: MapDifference[];
	/** Null where they were not looked for. */
	findings: { came: Finding[]; went: Finding[] } | null;
}

/** How a comparison is made. */
export interface DiffOptions {
	/** Maps take longest; false leaves them and their checks out. */
	maps?: boolean;
	/** Whether to look for what is suspicious in either; where it is not said, in projects that are not large. */
	findings?: boolean;
	/** Told what is looked at next. */
	doing?: (what: string) => void;
}

/** Whether an answer is another one: of an answer, a run or a map. */
export const answersDiffer = ({ answers, runs, maps }: ProjectDifference): boolean =>
	answers.length + runs.length + maps.length > 0;

const momentsOf = (project: Project): (string | null)[] => [null, ...(project.moments ?? []).map((m) => m.id)];

function answersOf(before: Project, after: Project, was: Dependencies, is: Dependencies): AnswerDifference[] {
	const out: AnswerDifference[] = [];
	// A query or a moment that only one of them has is an edit, and no answer that is another one.
	const asked = new Set(before.queries.map((q) => q.id));
	const known = new Set(momentsOf(before));
	for (const moment of momentsOf(after).filter((m) => known.has(m))) {
		const reached = after.queries.filter((q) => asked.has(q.id) && !is.sameAs(was, moment, [q.id]));
		if (reached.length === 0) continue;
		const [old, now] = [new Answerer(buildWorld(before, moment)), new Answerer(buildWorld(after, moment))];
		const quick = (answerer: Answerer) =>
			reached.flatMap(({ id }) => {
				const query = answerer.world.queryById.get(id);
				return query ? [quickAnswer(answerer.winner(query), moment)] : [];
			});
		for (const change of changesBetween(quick(old), quick(now))) {
			const query = now.world.queryById.get(change.query);
			const gone = change.before?.objects.find((id) => !change.after?.objects.includes(id));
			let lost: Verdict | null = null;
			if (query && gone !== undefined && change.after?.status !== 'off' && change.after?.status !== 'waiting')
				lost = now.explain(query).verdicts.find((v) => v.object === gone) ?? null;
			out.push({ ...change, lost });
		}
	}
	return out;
}

type Outcomes = Map<string, boolean>;

/** @param reached which of the checks may have become otherwise: the others need not be run */
function outcomesOf(project: Project, reached: (check: AnyCheck) => boolean, maps: MapMemory | null): Outcomes {
	const out: Outcomes = new Map();
	const note = (results: readonly { id: string; pass: boolean }[]) => {
		for (const { id, pass } of results) out.set(id, pass);
	};
	note(runChecks(project, activeChecks(project).filter(reached), undefined, true));
	note(
		checkRuns(
			project,
			runChecksIn(project).filter((c) => isOn(c) && reached(c)),
		),
	);
	if (maps)
		note(
			checkMaps(
				project,
				mapChecksIn(project).filter((c) => isOn(c) && reached(c)),
				undefined,
				maps,
			),
		);
	return out;
}

/** The queries a run asks: those it watches and those its swings swing. */
const askedBy = (run: Run): string[] => [...(run.watch ?? []), ...(run.swings ?? [])].map((entry) => entry.query);

const sameJson = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

function runDifference(run: Run, before: RunResult, after: RunResult): RunDifference | null {
	const n = Math.max(before.events.length, after.events.length);
	let at = 0;
	while (at < n && sameJson(before.events[at], after.events[at])) at++;
	if (at === n) return null;
	const [old, now] = [before.events[at] ?? null, after.events[at] ?? null];
	const figures: RunDifference['figures'] = [];
	for (const w of after.watch) {
		const then = before.watch.find((other) => other.id === w.id);
		if (then && then.changes !== w.changes)
			figures.push({ of: w.id, what: 'changes', before: then.changes, after: w.changes });
	}
	const missed = (result: RunResult, of: (event: RunEvent) => boolean) =>
		result.events.filter((event) => event.kind === 'missed' && of(event)).length;
	const count = (of: string, mine: (event: RunEvent) => boolean) => {
		const [a, b] = [missed(before, mine), missed(after, mine)];
		if (a !== b) figures.push({ of, what: 'missed', before: a, after: b });
	};
	for (const entry of run.watch ?? []) {
		const id = watchId(entry);
		count(id, (event) => 'watch' in event && event.watch === id);
	}
	(run.swings ?? []).forEach((_, i) => {
		count(`swing ${i}`, (event) => 'swing' in event && event.swing === i);
	});
	return { run: run.id, before: old, after: now, t: Math.min(old?.t ?? Infinity, now?.t ?? Infinity), figures };
}

function mapDifference(map: QueryMap, before: MapMemory, after: MapMemory, was: QueryMap): MapDifference | null {
	const [old, now] = [before.result(was), after.result(map)];
	const sameGrid = old.columns === now.columns && old.rows === now.rows && old.headings === now.headings;
	const compared = sameGrid ? compareMaps(old, now) : null;
	const byObject = (figures: MapFigures) => new Map(figures.objects.map((o) => [o.object, o]));
	const [a, b] = [byObject(old.figures), byObject(now.figures)];
	const figures = [...new Set([...b.keys(), ...a.keys()])].flatMap((object) => {
		const [then, since] = [a.get(object) ?? null, b.get(object) ?? null];
		return sameJson(then, since) ? [] : [{ object, before: then, after: since }];
	});
	const never = (f: MapFigures) => f.never.map((o) => o.object);
	const neverNow = never(now.figures).filter((id) => !never(old.figures).includes(id));
	const neverBefore = never(old.figures).filter((id) => !never(now.figures).includes(id));
	if (compared?.differ === 0 && figures.length + neverNow.length + neverBefore.length === 0) return null;
	const { differ = null, handed = [] } = compared ?? {};
	return { map: map.id, differ, answers: now.cells.length, handed, figures, neverNow, neverBefore };
}

/** With more verdicts than this findings take longer than all else together. */
const MAX_VERDICTS = 500_000;
const isLarge = (project: Project): boolean =>
	project.scene.objects.length * project.queries.length * momentsOf(project).length > MAX_VERDICTS;

/** What tells a finding from the others: its rule and what it says. Its place may be another after an edit before it. */
const findingKey = (f: Finding): string => `${f.rule} ${f.message}`;

/**
 * @param before the earlier state, valid
 * @param after the later one, valid; things that merely go by another id in it are followed
 */
export function differenceOf(before: Project, after: Project, options: DiffOptions = {}): ProjectDifference {
	const { maps = true, findings = !isLarge(after), doing = () => {} } = options;
	const renamings = renamingsBetween(before, after);
	const edits = editsBetween(before, after, renamings);
	const old = alignedTo(before, renamings);
	const [was, is] = [new Dependencies(old), new Dependencies(after)];
	doing('asking what the edits reach');
	const answers = answersOf(old, after, was, is);

	doing('running what the edits reach');
	const runs: RunDifference[] = [];
	const sameRun = (run: Run | undefined, then: Run | undefined): boolean =>
		run !== undefined && then !== undefined && sameJson(run, then) && is.sameAs(was, run.moment ?? null, askedBy(run));
	const runById = (project: Project, id: string) => project.runs?.find((r) => r.id === id);
	for (const run of after.runs ?? []) {
		const then = runById(old, run.id);
		if (!then || sameRun(run, then)) continue;
		const found = runDifference(run, runThrough(old, then), runThrough(after, run));
		if (found) runs.push(found);
	}

	const mapDifferences: MapDifference[] = [];
	const sameMap = (map: QueryMap | undefined, then: QueryMap | undefined): boolean =>
		map !== undefined && then !== undefined && sameJson(map, then) && is.sameAs(was, map.moment ?? null, [map.query]);
	const mapById = (project: Project, id: string) => project.maps?.find((m) => m.id === id);
	const [mapsBefore, mapsAfter] = [new MapMemory(), new MapMemory()];
	if (maps) {
		mapsBefore.turnTo(old, was);
		mapsAfter.turnTo(after, is);
		for (const map of after.maps ?? []) {
			const then = mapById(old, map.id);
			if (!then || sameMap(map, then)) continue;
			doing(`asking the map ${map.id}`);
			const found = mapDifference(map, mapsBefore, mapsAfter, then);
			if (found) mapDifferences.push(found);
		}
	}

	doing('checking what the edits reach');
	const checkById = new Map((old.checks ?? []).map((c) => [c.id, c]));
	const afterById = new Map((after.checks ?? []).map((c) => [c.id, c]));
	const isSame = (check: AnyCheck): boolean => {
		const [a, b] = [checkById.get(check.id), afterById.get(check.id)];
		if (!a || !b || !sameJson(a, b)) return false;
		if ('run' in check) return sameRun(runById(after, check.run), runById(old, check.run));
		if ('map' in check) return sameMap(mapById(after, check.map), mapById(old, check.map));
		return is.sameAs(was, check.moment ?? null, [check.query]);
	};
	const reached = (check: AnyCheck) => !isSame(check);
	const [oldOutcomes, newOutcomes] = [
		outcomesOf(old, reached, maps ? mapsBefore : null),
		outcomesOf(after, reached, maps ? mapsAfter : null),
	];
	const said = (pass: boolean | undefined): CheckDifference['before'] =>
		pass === undefined ? null : pass ? 'holds' : 'fails';
	const checks = [...new Set([...newOutcomes.keys(), ...oldOutcomes.keys()])].flatMap((check): CheckDifference[] => {
		const [a, b] = [said(oldOutcomes.get(check)), said(newOutcomes.get(check))];
		return a === b ? [] : [{ check, before: a, after: b }];
	});

	let found: ProjectDifference['findings'] = null;
	if (findings) {
		doing('looking for findings');
		const [then, now] = [findFindings(old), findFindings(after)];
		const [thenKeys, nowKeys] = [new Set(then.map(findingKey)), new Set(now.map(findingKey))];
		found = {
			came: now.filter((f) => !thenKeys.has(findingKey(f))),
			went: then.filter((f) => !nowKeys.has(findingKey(f))),
		};
	}
	return { edits, answers, checks, runs, maps: mapDifferences, findings: found };
}
