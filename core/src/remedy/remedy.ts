/**
 * Remedies: changes of a project after which a query answers as is wished. Every one that is given has been tried, on a whole project made
 * anew; so have the answers and checks that are told to change with it.
 */

import jsonPatch, { type Operation } from 'fast-json-patch';
import { runChecks } from '../checks/check';
import { answersAt, changesBetween, type QuickAnswer } from '../checks/survey';
import { takeOf } from '../project/defaults';
import { checkProject } from '../project/read';
import type { Project, Query } from '../project/schema';
import { Answerer } from '../query/answer';
import { type Answer, STAGES, type Verdict } from '../query/types';
import { byId, type Naming } from '../query/words';
import { buildWorld, type World } from '../world/world';
import type { Candidate, Case } from './candidate';
import { both, changed, type Recipe } from './change';
import { candidatesFor } from './kinds';
import { LastingChecks } from './lasting';

/** A change that was tried and helps. */
export interface Remedy {
	kind: string;
	/** What to do, as a sentence. */
	words: string;
	/** As a JSON Patch (RFC 6902) of the project. */
	patch: Operation[];
	/** How much is changed, in its unit: metres, degrees, pixels, or one edit. */
	size: number;
	unit: string;
	/** Other queries and moments that answer otherwise with it. */
	changes: { query: string; moment: string | null }[];
	/** Ids of checks that no longer hold with it, and of those that hold only with it: of answers, then of runs and maps. */
	turns: string[];
	mends: string[];
}

/** What is to come true. `select`: the object alone (of a query that takes more: among them). `leave`: it is not selected. */
export interface Wish {
	query: string;
	object: string;
	moment?: string | null;
	wish?: 'select' | 'leave';
}

/** What is found for a wish. */
export interface Remedies {
	/** The verdict on the object, or on the stand-in of it that came furthest; null where the query is off or waits. */
	verdict: Verdict | null;
	/** It is so already: nothing is to be changed. */
	already: boolean;
	remedies: Remedy[];
}

/** How they are looked for. */
export interface RemedyOptions {
	naming?: Naming;
	/** Called with each as it is found, before they are put in order and held against checks of runs and of maps. */
	found?: (remedy: Remedy) => void;
	/** Called with all there are, in order: what follows is holding them against checks of runs and of maps. */
	all?: (remedies: readonly Remedy[]) => void;
	/** Asked between two tries; true ends the search with what was found. */
	cancelled?: () => boolean;
}

/** Kinds of which many differ by their layer alone. */
const ONE_IS_ENOUGH = new Set(['unblock-layer', 'change-layer']);
/** Of pairs no more are looked for. */
const MAX_PAIRS = 6;
/** First halves of pairs. */
const MAX_FIRST = 8;

const wellFor =
	(query: Query, object: string, wish: 'select' | 'leave') =>
	({ status, selected }: Answer): boolean => {
		const has = selected.some((s) => s.object === object);
		if (wish === 'leave') return status !== 'waiting' && !has;
		return takeOf(query) === 1 ? status === 'selected' && has && selected.length === 1 : has;
	};

/** The verdict that counts for an object: of itself and its stand-ins the one that came furthest. */
function furthest(world: World, answer: Answer, object: string): Verdict | null {
	const own = answer.verdicts.filter((v) => world.objectById.get(v.object)?.answersFor.id === object);
	return own.reduce<Verdict | null>(
		(best, v) => (best === null || STAGES.indexOf(v.stage) > STAGES.indexOf(best.stage) ? v : best),
		null,
	);
}

function caseOf(project: Project, wish: Required<Wish>, naming: Naming): Case | null {
	const world = buildWorld(project, wish.moment);
	const query = world.queryById.get(wish.query);
	const target = world.objectById.get(wish.object);
	if (!query || !target) return null;
	const answer = new Answerer(world).explain(query);
	const verdict = furthest(world, answer, target.id);
	return {
		project,
		moment: wish.moment,
		world,
		query,
		target,
		subject: world.objectById.get(verdict?.object ?? target.id) ?? target,
		verdict,
		answer,
		wish: wish.wish,
		naming,
		isWell: wellFor(query, target.id, wish.wish),
	};
}

/** What of a project a change is compared with. */
class Before {
	private readonly answers: QuickAnswer[];
	private readonly checks: Map<string, boolean>;
	private readonly lasting: LastingChecks;
	/** What each remedy makes of the project. */
	private readonly made = new WeakMap<Remedy, Project>();

	constructor(
		readonly project: Project,
		private readonly wish: Required<Wish>,
	) {
		this.answers = answersAt(project);
		this.checks = Before.checked(project);
		this.lasting = new LastingChecks(project);
	}

	private static checked(project: Project): Map<string, boolean> {
		return new Map(runChecks(project, undefined, undefined, true).map((r) => [r.id, r.pass]));
	}

	/** @returns the remedy a change is, or null where it is none: not valid, or not well */
	tried({ kind, words, size, unit, recipe }: Candidate): Remedy | null {
		const { project, wish } = this;
		const after = changed(project, wish.moment, recipe);
		const patch = jsonPatch.compare(project, after);
		if (patch.length === 0 || !checkProject(after).ok) return null;
		const world = buildWorld(after, wish.moment);
		const query = world.queryById.get(wish.query);
		if (!query || !wellFor(query, wish.object, wish.wish)(new Answerer(world).winner(query))) return null;
		const changes = changesBetween(this.answers, answersAt(after))
			.filter((c) => c.query !== wish.query || c.moment !== wish.moment)
			.map((c) => ({ query: c.query, moment: c.moment }));
		const now = Before.checked(after);
		const turned = (to: boolean) =>
			[...this.checks].filter(([id, pass]) => pass !== to && now.get(id) === to).map(([id]) => id);
		const remedy = { kind, words, patch, size, unit, changes, turns: turned(false), mends: turned(true) };
		this.made.set(remedy, after);
		return remedy;
	}

	/** @returns a remedy that was tried, with the checks of runs and of maps it turns and mends as well */
	held(remedy: Remedy): Remedy {
		const { turns, mends } = this.lasting.turned(this.made.get(remedy) as Project);
		return { ...remedy, turns: [...remedy.turns, ...turns], mends: [...remedy.mends, ...mends] };
	}
}

/**
 * Looks for changes that make a wish come true: one of each kind that can matter for the stage at which the object falls; where none is
 * enough, pairs, the second for what then still fails.
 * @throws RangeError for a query, object or moment the project does not have
 */
export function remediesFor(project: Project, asked: Wish, options: RemedyOptions = {}): Remedies {
	const { naming = byId, found = () => {}, all = () => {}, cancelled = () => false } = options;
	const wish: Required<Wish> = { moment: null, wish: 'select', ...asked };
	const one = caseOf(project, wish, naming);
	if (!one) throw new RangeError(`no query "${asked.query}", or no object "${asked.object}"`);
	if (one.isWell(one.answer)) return { verdict: one.verdict, already: true, remedies: [] };
	const before = new Before(project, wish);
	const remedies: Remedy[] = [];
	const seen = new Set<string>();
	const take = (candidate: Candidate): boolean => {
		const remedy = before.tried(candidate);
		if (!remedy) return false;
		const key = JSON.stringify(remedy.patch);
		if (seen.has(key)) return true;
		seen.add(key);
		remedies.push(remedy);
		found(remedy);
		return true;
	};
	/** Those that were tried. */
	const candidates: Candidate[] = [];
	/** Of one kind and thing the first that helps is the least: the next are the same with a little more. */
	const helped = new Set<string>();
	for (const candidate of candidatesFor(one)) {
		if (cancelled()) break;
		candidates.push(candidate);
		const same = candidate.of === undefined ? null : `${candidate.kind} ${candidate.of}`;
		if (same !== null && helped.has(same)) continue;
		if (take(candidate) && same !== null) helped.add(same);
	}
	if (remedies.length === 0 && wish.wish === 'select') pairs(project, wish, one, candidates, naming, take, cancelled);
	remedies.sort(byCost);
	// Of many layers that would do the one that costs least is enough.
	const least = (kind: string) => remedies.find((r) => r.kind === kind);
	const kept = remedies.filter((r) => !ONE_IS_ENOUGH.has(r.kind) || r === least(r.kind));
	all(kept);
	const held = kept.map((remedy) => (cancelled() ? remedy : before.held(remedy)));
	return { verdict: one.verdict, already: false, remedies: held.sort(byCost) };
}

/** Pairs: a change that takes the object a stage further, and one for where it falls then. */
function pairs(
	project: Project,
	wish: Required<Wish>,
	one: Case,
	candidates: readonly Candidate[],
	naming: Naming,
	take: (candidate: Candidate) => boolean,
	cancelled: () => boolean,
): void {
	const rank = (c: Case): number => (c.answer.status === 'off' ? -1 : c.verdict ? STAGES.indexOf(c.verdict.stage) : -2);
	let made = 0;
	let firsts = 0;
	for (const first of candidates) {
		if (cancelled() || made >= MAX_PAIRS || firsts >= MAX_FIRST) return;
		const halfway = changed(project, wish.moment, first.recipe);
		if (!checkProject(halfway).ok) continue;
		const then = caseOf(halfway, wish, naming);
		if (!then || rank(then) <= rank(one)) continue;
		firsts++;
		const seconds = new Set<string>();
		for (const second of candidatesFor(then)) {
			if (cancelled() || made >= MAX_PAIRS) return;
			if (seconds.has(second.kind)) continue;
			if (take(joined(first, second))) {
				seconds.add(second.kind);
				made++;
			}
		}
	}
}

const joined = (first: Candidate, second: Candidate): Candidate => ({
	kind: `${first.kind}+${second.kind}`,
	words: `${first.words}; ${second.words.charAt(0).toLowerCase()}${second.words.slice(1)}`,
	recipe: both(first.recipe, second.recipe) as Recipe,
	size: first.unit === second.unit ? first.size + second.size : 2,
	unit: first.unit === second.unit ? first.unit : 'edit',
});

const edits = (remedy: Remedy): number => remedy.kind.split('+').length;

/** Order of remedies: no check turned first, then fewer other answers changed, fewer edits, smaller. For `Array.sort`. */
export function byCost(a: Remedy, b: Remedy): number {
	return (
		a.turns.length - b.turns.length || a.changes.length - b.changes.length || edits(a) - edits(b) || a.size - b.size
	);
}
