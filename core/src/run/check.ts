/** What a run should do, held against what it did (contract §12.8). */

import { isOn, runChecksIn } from '../project/check-kinds';
import { lastStep, TIME_EPSILON } from '../project/defaults';
import type { Project, Run, RunCheck, RunExpect } from '../project/schema';
import type { RunEvent, RunResult } from './events';
import { runThrough } from './run';

/** The outcome of a check of a run. `got` is what was observed. */
export interface RunCheckResult {
	id: string;
	run: string;
	watch: string | null;
	swing: number | null;
	/** The moment its run starts from. */
	moment: string | null;
	pass: boolean;
	wanted: RunExpect;
	got: unknown;
	/** Why it fails; empty where it holds. */
	reason: string;
	/** Where it first differs, seconds; null where it holds. */
	from: number | null;
}

interface Held {
	selected: string[];
	tied: string[];
}

/** What an entry holds at each change: the steps from which it does. */
function holdings(result: RunResult, watch: string): { k: number; t: number; held: Held }[] {
	return result.events.flatMap((e) =>
		e.kind === 'choose' && e.watch === watch ? [{ k: e.k, t: e.t, held: { selected: e.selected, tied: e.tied } }] : [],
	);
}

const NONE: Held = { selected: [], tied: [] };

const sameSet = (a: readonly string[], b: readonly string[]): boolean =>
	a.length === b.length && new Set([...a, ...b]).size === new Set(a).size && new Set(a).size === new Set(b).size;
const sameList = (a: readonly unknown[], b: readonly unknown[]): boolean =>
	a.length === b.length && a.every((v, i) => v === b[i]);

interface Verdict {
	pass: boolean;
	got: unknown;
	/** What was got, in words. */
	said: string;
}

/** How things are called in reasons; ids where nothing else is given. */
type Name = (object: string) => string;

const listWords = (ids: readonly (string | null)[], name: Name): string =>
	ids.length === 0 ? 'nothing' : ids.map((id) => (id === null ? 'nothing' : name(id))).join(', ');

const heldWords = ({ selected, tied }: Held, name: Name): string =>
	tied.length > 0 ? `a tie of ${listWords(tied, name)}` : listWords(selected, name);

function judgeWatch(expect: RunExpect, run: Run, result: RunResult, watch: string, name: Name): Verdict {
	const changes = holdings(result, watch);
	if (expect.sequence) {
		const got: (string | null)[] = [];
		const add = ({ selected, tied }: Held) => {
			const first = tied.length > 0 ? null : (selected[0] ?? null);
			if (got.length === 0 || got.at(-1) !== first) got.push(first);
		};
		// Before the first change nothing was held, if there was a step before it.
		if (changes[0]?.k !== 0) add(NONE);
		for (const { held } of changes) add(held);
		return { pass: sameList(got, expect.sequence), got, said: listWords(got, name) };
	}
	if (expect.at !== undefined) {
		const last = lastStep(run);
		let k = Math.max(0, Math.ceil((expect.at - TIME_EPSILON) / run.step));
		while (k > 0 && (k - 1) * run.step >= expect.at - TIME_EPSILON) k--;
		while (k * run.step < expect.at - TIME_EPSILON) k++;
		if (k > last) return { pass: false, got: null, said: `the run ends at ${last * run.step} s` };
		const held = changes.findLast((c) => c.k <= k)?.held ?? NONE;
		const pass = expect.selects
			? held.tied.length === 0 &&
				(expect.order === 'any' ? sameSet(expect.selects, held.selected) : sameList(expect.selects, held.selected))
			: expect.none
				? held.selected.length === 0 && held.tied.length === 0
				: sameSet(expect.tie ?? [], held.tied);
		return { pass, got: { selected: held.selected, tied: held.tied }, said: heldWords(held, name) };
	}
	if (expect.never) {
		const seen = new Set(changes.flatMap(({ held }) => [...held.selected, ...held.tied]));
		return judgeNever(expect.never, seen, name);
	}
	if (expect.changes) {
		const got = result.watch.find((w) => w.id === watch)?.changes ?? 0;
		return { pass: got <= expect.changes.max, got, said: changeWords(got) };
	}
	if (expect.held) {
		const got = result.events.flatMap((e) => (e.kind === 'held' && e.watch === watch ? e.objects.slice(0, 1) : []));
		return { pass: sameList(got, expect.held), got, said: `held ${listWords(got, name)}` };
	}
	if (expect.broken) {
		const got = result.events.filter((e) => e.kind === 'broken' && e.watch === watch).length;
		return { pass: got <= expect.broken.max, got, said: `${got} broken off` };
	}
	return judgeMissed(expect, result.events, (e) => e.kind === 'missed' && 'watch' in e && e.watch === watch);
}

function judgeNever(never: readonly string[], seen: ReadonlySet<string>, name: Name): Verdict {
	const got = never.filter((id) => seen.has(id));
	return { pass: got.length === 0, got, said: listWords(got, name) };
}

function judgeMissed(expect: RunExpect, events: readonly RunEvent[], mine: (e: RunEvent) => boolean): Verdict {
	const got = events.filter(mine).length;
	return { pass: got <= (expect.missed ?? 0), got, said: `${got} missed between the steps` };
}

function judgeSwing(expect: RunExpect, result: RunResult, swing: number, name: Name): Verdict {
	const mine = result.events.filter((e) => 'swing' in e && e.swing === swing);
	const hits = [...new Set(mine.flatMap((e) => (e.kind === 'hit' ? [e.object] : [])))];
	if (expect.hits) {
		const pass = expect.order === 'exact' ? sameList(expect.hits, hits) : sameSet(expect.hits, hits);
		return { pass, got: hits, said: listWords(hits, name) };
	}
	if (expect.never) {
		const undecided = mine.flatMap((e) => (e.kind === 'undecided' ? e.tied : []));
		return judgeNever(expect.never, new Set([...hits, ...undecided]), name);
	}
	return judgeMissed(expect, mine, (e) => e.kind === 'missed');
}

const changeWords = (n: number): string => `${n} ${n === 1 ? 'change' : 'changes'}`;

function wantedWords(expect: RunExpect, name: Name): string {
	if (expect.sequence) return `the sequence ${listWords(expect.sequence, name)}`;
	if (expect.at !== undefined) {
		const what = expect.selects
			? listWords(expect.selects, name)
			: expect.none
				? 'nothing'
				: `a tie of ${listWords(expect.tie ?? [], name)}`;
		return `${what} at ${expect.at} s`;
	}
	if (expect.hits) return `hits on ${listWords(expect.hits, name)}`;
	if (expect.never) return `never ${listWords(expect.never, name)}`;
	if (expect.changes) return `at most ${changeWords(expect.changes.max)}`;
	if (expect.held) return `held ${listWords(expect.held, name)}`;
	if (expect.broken) return `at most ${expect.broken.max} broken off`;
	return `at most ${expect.missed ?? 0} missed`;
}

/** Holds one check of a run against what the run did. @param name how objects are called in the reason */
export function judgeRun(check: RunCheck, run: Run, result: RunResult, name: Name = (id) => id): RunCheckResult {
	const { pass, got, said } =
		check.watch === undefined
			? judgeSwing(check.expect, result, check.swing ?? 0, name)
			: judgeWatch(check.expect, run, result, check.watch, name);
	return {
		id: check.id,
		run: run.id,
		watch: check.watch ?? null,
		swing: check.swing ?? null,
		moment: run.moment ?? null,
		pass,
		wanted: check.expect,
		got,
		reason: pass ? '' : `wanted ${wantedWords(check.expect, name)}; got ${said}`,
		from: pass ? null : firstDifference(check, run, result),
	};
}

/**
 * Where a run first differs from what a failing check wants: the instant to look at.
 * @returns seconds; 0 where nothing of it can be pointed at
 */
export function firstDifference(check: RunCheck, run: Run, result: RunResult): number {
	const { expect, watch } = check;
	const mine = result.events.filter((e) =>
		watch === undefined ? 'swing' in e && e.swing === check.swing : 'watch' in e && e.watch === watch,
	);
	if (expect.at !== undefined) return Math.min(expect.at, lastStep(run) * run.step);
	if (expect.sequence && watch !== undefined) {
		const changes = holdings(result, watch);
		// As many folded entries as are as wanted, then the change that made the next.
		let place = changes[0]?.k === 0 ? -1 : 0;
		let last: string | null | undefined = changes[0]?.k === 0 ? undefined : null;
		if (place === 0 && expect.sequence[0] !== null) return 0;
		for (const { t, held } of changes) {
			const first = held.tied.length > 0 ? null : (held.selected[0] ?? null);
			if (first === last) continue;
			last = first;
			place++;
			if (expect.sequence[place] !== first) return t;
		}
		return changes.at(-1)?.t ?? 0;
	}
	const never = expect.never;
	if (never) {
		const has = (ids: readonly string[]) => ids.some((id) => never.includes(id));
		const at = mine.find(
			(e) =>
				(e.kind === 'choose' && has([...e.selected, ...e.tied])) ||
				(e.kind === 'hit' && has([e.object])) ||
				(e.kind === 'undecided' && has(e.tied)),
		);
		return at?.t ?? 0;
	}
	if (expect.changes) return mine.filter((e) => e.kind === 'choose' && e.k > 0)[expect.changes.max]?.t ?? 0;
	if (expect.broken) return mine.filter((e) => e.kind === 'broken')[expect.broken.max]?.t ?? 0;
	if (expect.held) {
		const held = mine.filter((e) => e.kind === 'held');
		const wrong = held.find((e, i) => e.kind === 'held' && e.objects[0] !== expect.held?.[i]);
		return (wrong ?? mine.findLast((e) => e.kind === 'broken') ?? held.at(-1))?.t ?? 0;
	}
	if (expect.hits) {
		const seen = new Set<string>();
		const hits = mine.filter((e) => e.kind === 'hit' && !seen.has(e.object) && seen.add(e.object));
		const wrong = hits.find(
			(e, i) =>
				e.kind === 'hit' &&
				(expect.order === 'exact' ? expect.hits?.[i] !== e.object : expect.hits?.includes(e.object) === false),
		);
		return (wrong ?? hits.at(-1))?.t ?? 0;
	}
	return mine.filter((e) => e.kind === 'missed')[expect.missed ?? 0]?.t ?? 0;
}

/**
 * Runs the checks of runs; each run is run once.
 * @param checks those to run, in the order wanted
 * @param progress told how many steps of how many are done in all
 */
export function checkRuns(
	project: Project,
	checks: readonly RunCheck[] = runChecksIn(project).filter(isOn),
	progress: (done: number, of: number) => void = () => {},
	judged: (id: string) => void = () => {},
): RunCheckResult[] {
	const runs = new Map((project.runs ?? []).map((r) => [r.id, r]));
	const wanted = new Set(checks.map((c) => c.run));
	const of = [...wanted].reduce((sum, id) => sum + (runs.has(id) ? lastStep(runs.get(id) as Run) + 1 : 0), 0);
	let before = 0;
	const results = new Map<string, RunResult>();
	const names = new Map(project.scene.objects.map((o) => [o.id, o.name ?? o.id]));
	const name: Name = (id) => names.get(id) ?? id;
	return checks.flatMap((check) => {
		const run = runs.get(check.run);
		if (!run) return [];
		let result = results.get(run.id);
		if (!result) {
			result = runThrough(project, run, { progress: (done) => progress(before + done, of) });
			before += lastStep(run) + 1;
			results.set(run.id, result);
		}
		const outcome = judgeRun(check, run, result, name);
		judged(check.id);
		return [outcome];
	});
}

/** What a failing check of a run would have to expect to hold: what was observed; null where that is nothing to want. */
export function updatedRunExpectation({ wanted, got }: RunCheckResult): RunExpect | null {
	if (wanted.sequence) return { sequence: got as (string | null)[] };
	if (wanted.hits) return { ...(wanted.order ? { order: wanted.order } : {}), hits: got as string[] };
	if (wanted.changes) return { changes: { max: got as number } };
	if (wanted.held) return { held: got as string[] };
	if (wanted.broken) return { broken: { max: got as number } };
	if (wanted.missed !== undefined) return { missed: got as number };
	if (wanted.at === undefined || got === null) return null;
	const { selected, tied } = got as Held;
	const { at } = wanted;
	if (tied.length > 0) return { at, tie: tied };
	if (selected.length === 0) return { at, none: true };
	return { at, selects: selected, ...(wanted.order ? { order: wanted.order } : {}) };
}

/** What a check of a run wants, in words. */
export const wordsOfRunWanted = (expect: RunExpect, name: Name = (id) => id): string => wantedWords(expect, name);
