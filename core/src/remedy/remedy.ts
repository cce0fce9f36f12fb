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
import { both, changed } from './change';
import { candidatesFor } from './kinds';
import { LastingChecks } from './lasting';
import { type Earlier, puttingBack } from './put-back';

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
	/** What it looks like: the mistake itself (a left-over, what all others of its kind have otherwise), or what merely works. */
	looks?: 'mistake' | 'works';
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
	/** Where none was found, how far changes that were tried together came, and what still keeps it; null where none came nearer. */
	nearest: Nearest | null;
}

/** Changes after which a wish is not true yet, but nearer. */
export interface Nearest {
	/** What to do, one after another. */
	words: string[];
	/** The verdict on the object then. */
	verdict: Verdict | null;
}

/** How they are looked for. */
export interface RemedyOptions {
	naming?: Naming;
	/** Objects and queries as they were before the last edits, the newest first: one that is the mistake can be put back. */
	earlier?: readonly Earlier[];
	/** Called with each as it is found, before they are put in order and held against checks of runs and of maps. */
	found?: (remedy: Remedy) => void;
	/** Called with all there are, in order: what follows is holding them against checks of runs and of maps. */
	all?: (remedies: readonly Remedy[]) => void;
	/** Asked between two tries; true ends the search with what was found. */
	cancelled?: () => boolean;
}

/** Kinds of which many differ by their layer alone. */
const ONE_IS_ENOUGH = new Set(['unblock-layer', 'change-layer']);
/** Of changes that only help together: so many are enough, so many first ones are gone on from, of a kind so many, with so many changes at most. */
const TOGETHER = { enough: 6, firsts: 8, kind: 2, edits: 4 };

const wellFor = (object: string, wish: 'select' | 'leave') => {
	const isIt = ({ status, selected }: Answer, query: Query): boolean => {
		const has = selected.some((s) => s.object === object);
		if (wish === 'leave') return status !== 'waiting' && !has;
		return takeOf(query) === 1 ? status === 'selected' && has && selected.length === 1 : has;
	};
	return (world: World, query: Query): boolean => isIt(new Answerer(world).winner(query), query);
};

/** Of several conditions the first that fails is told: a later one is further; so is what can be touched, having shapes. */
const placeOf = (verdict: Verdict | null, query: Query): number => {
	if (!verdict) return -2;
	const { condition } = verdict;
	const among = condition
		? (query.selects?.when ?? []).findIndex((w) => JSON.stringify(w) === JSON.stringify(condition))
		: 0;
	const touchable = verdict.stage === 'touch' && verdict.margin !== undefined;
	return STAGES.indexOf(verdict.stage) + Math.max(0, among) / 1000 + (touchable ? 0.5 : 0);
};

/** How far an object comes: the place of its stage; a query that is off, or waits, comes before all. */
const rankOf = ({ answer, verdict, query }: Case): number => (answer.status === 'off' ? -1 : placeOf(verdict, query));

/** The same case, with everything well by which the object comes further than it does. */
function comingFurther(c: Case): Case {
	const rank = rankOf(c);
	const { target } = c;
	const isWell = (world: World, query: Query): boolean => {
		const { verdicts } = new Answerer(world).probe(query);
		return verdicts.some((v) => {
			const object = v && world.objectById.get(v.object);
			return object && object.answersFor.id === target.id && placeOf(v, query) > rank;
		});
	};
	return { ...c, isWell };
}

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
		isWell: wellFor(target.id, wish.wish),
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
	tried({ kind, words, size, unit, looks, recipe }: Candidate): Remedy | null {
		const { project, wish } = this;
		const after = changed(project, wish.moment, recipe);
		const patch = jsonPatch.compare(project, after);
		if (patch.length === 0 || !checkProject(after).ok) return null;
		const world = buildWorld(after, wish.moment);
		const query = world.queryById.get(wish.query);
		if (!query || !wellFor(wish.object, wish.wish)(world, query)) return null;
		const changes = changesBetween(this.answers, answersAt(after))
			.filter((c) => c.query !== wish.query || c.moment !== wish.moment)
			.map((c) => ({ query: c.query, moment: c.moment }));
		const now = Before.checked(after);
		const turned = (to: boolean) =>
			[...this.checks].filter(([id, pass]) => pass !== to && now.get(id) === to).map(([id]) => id);
		const remedy: Remedy = { kind, words, patch, size, unit, changes, turns: turned(false), mends: turned(true) };
		if (looks) remedy.looks = looks;
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
 * enough, two together, the second for what then still fails; where no two are enough, three, then four.
 * @throws RangeError for a query, object or moment the project does not have
 */
export function remediesFor(project: Project, asked: Wish, options: RemedyOptions = {}): Remedies {
	const { naming = byId, earlier = [], found = () => {}, all = () => {}, cancelled = () => false } = options;
	const wish: Required<Wish> = { moment: null, wish: 'select', ...asked };
	const one = caseOf(project, wish, naming);
	if (!one) throw new RangeError(`no query "${asked.query}", or no object "${asked.object}"`);
	if (one.isWell(one.world, one.query)) return { verdict: one.verdict, already: true, remedies: [], nearest: null };
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
	/** Of one kind and thing the first that helps is the least: the next are the same with a little more. */
	const helped = new Set<string>();
	for (const candidate of allFor(one, earlier)) {
		if (cancelled()) break;
		const same = candidate.of === undefined ? null : `${candidate.kind} ${candidate.of}`;
		if (same !== null && helped.has(same)) continue;
		if (take(candidate) && same !== null) helped.add(same);
	}
	const nearest = remedies.length === 0 && wish.wish === 'select' ? together(wish, one, take, cancelled) : null;
	remedies.sort(byCost);
	// Of many layers that would do the one that costs least is enough.
	const least = (kind: string) => remedies.find((r) => r.kind === kind);
	const kept = remedies.filter((r) => !ONE_IS_ENOUGH.has(r.kind) || r === least(r.kind));
	all(kept);
	const held = kept.map((remedy) => (cancelled() ? remedy : before.held(remedy)));
	return {
		verdict: one.verdict,
		already: false,
		remedies: held.sort(byCost),
		nearest: held.length > 0 ? null : nearest,
	};
}

/** Candidates for a case, those that undo an edit first. */
function* allFor(one: Case, earlier: readonly Earlier[]): Generator<Candidate> {
	yield* puttingBack(one, earlier);
	yield* candidatesFor(one);
}

/** Some changes that were made, and how it stands then. */
interface Halfway {
	made: Candidate;
	words: string[];
	then: Case;
}

/**
 * Changes that help together: each takes the object a stage further, the last makes it well.
 * @returns how far they came
 */
function together(
	wish: Required<Wish>,
	one: Case,
	take: (candidate: Candidate) => boolean,
	cancelled: () => boolean,
): Nearest | null {
	let found = 0;
	let nearest: Halfway | null = null;
	let open: Halfway[] = onward(wish, one, null, cancelled);
	for (let edits = 2; edits <= TOGETHER.edits && found === 0 && open.length > 0; edits++) {
		open.sort((a, b) => rankOf(b.then) - rankOf(a.then));
		for (const halfway of open.slice(0, TOGETHER.firsts)) {
			if (cancelled()) break;
			if (!nearest || rankOf(halfway.then) > rankOf(nearest.then)) nearest = halfway;
			const kinds = new Set<string>();
			for (const next of candidatesFor(halfway.then)) {
				if (cancelled() || found >= TOGETHER.enough) break;
				if (kinds.has(next.kind) || !take(joined(halfway.made, next))) continue;
				kinds.add(next.kind);
				found++;
			}
		}
		if (found === 0 && edits < TOGETHER.edits)
			open = open.slice(0, 2).flatMap((halfway) => onward(wish, halfway.then, halfway, cancelled));
	}
	return nearest && { words: nearest.words, verdict: nearest.then.verdict };
}

/** What takes the object a stage further, of each kind the first ones. */
function onward(wish: Required<Wish>, from: Case, before: Halfway | null, cancelled: () => boolean): Halfway[] {
	const list: Halfway[] = [];
	const kinds = new Map<string, number>();
	for (const next of candidatesFor(comingFurther(from))) {
		if (cancelled() || list.length >= TOGETHER.firsts) break;
		const known = kinds.get(next.kind) ?? 0;
		if (known >= TOGETHER.kind) continue;
		const project = changed(from.project, wish.moment, next.recipe);
		if (!checkProject(project).ok) continue;
		const then = caseOf(project, wish, from.naming);
		if (!then || rankOf(then) <= rankOf(from)) continue;
		kinds.set(next.kind, known + 1);
		const made = before ? joined(before.made, next) : next;
		list.push({ made, words: [...(before?.words ?? []), next.words], then });
	}
	return list;
}

const joined = (first: Candidate, second: Candidate): Candidate => ({
	kind: `${first.kind}+${second.kind}`,
	words: `${first.words}; ${second.words.charAt(0).toLowerCase()}${second.words.slice(1)}`,
	recipe: both(first.recipe, second.recipe),
	size: first.unit === second.unit ? first.size + second.size : 2,
	unit: first.unit === second.unit ? first.unit : 'edit',
	...(first.looks === 'works' || second.looks === 'works' ? { looks: 'works' as const } : {}),
});

const edits = (remedy: Remedy): number => remedy.kind.split('+').length;

/** What looks like the mistake stands before the rest, and what merely works behind it. */
const LOOKS = { mistake: -1, works: 1 };
const looksOf = ({ looks }: Remedy): number => (looks ? LOOKS[looks] : 0);

/**
 * Order of remedies: what looks like the mistake itself first; then no check broken, what is more than what merely works, fewer other
 * answers changed, fewer edits, smaller. For `Array.sort`.
 */
export function byCost(a: Remedy, b: Remedy): number {
	const mistake = (r: Remedy) => Math.min(0, looksOf(r));
	return (
		mistake(a) - mistake(b) ||
		a.turns.length - b.turns.length ||
		looksOf(a) - looksOf(b) ||
		a.changes.length - b.changes.length ||
		edits(a) - edits(b) ||
		a.size - b.size
	);
}
