/**
 * Worlds and answers derived from the project, kept for as long as what they hang on stays the same. An edit makes new what it
 * touches and nothing else: a moved object moves in the world there is, a changed query is asked again, and so are those that start
 * at its hit.
 */
import {
	type Answer,
	Asking,
	buildWorld,
	type Contender,
	hitsNeeded,
	layOver,
	moveObjects,
	type Project,
	type Query,
	type SceneObject,
	type Verdict,
	type World,
	withQueries,
} from '@frelk/core';

/** The verdict on an object: they stand in the order of the objects. None where the query is off or waiting. */
export const verdictOn = (world: World, answer: Answer | null, object: string): Verdict | undefined =>
	answer?.verdicts[world.objectById.get(object)?.index ?? -1];

export interface Answers {
	world: World;
	/** Another number whenever an object of the world has moved or the world was built anew. */
	turn: number;
	/** Every query's answer; the one in hand with all its verdicts. */
	byQuery: Map<string, Answer>;
	current: Answer | null;
	/** Contacts of the query in hand: of every object it touched, chosen or not. */
	touched: Contender[];
}

interface Known {
	project: Project;
	moment: string | null;
	objects: readonly SceneObject[];
	/** What a moment makes of cameras and states, to be told from the last. */
	laid: string;
	world: World;
	/** Counts what happened to the objects of the world; answers of another count are out of date. */
	turn: number;
}

let known: Known | null = null;
let turns = 0;

/** What a world is made of besides objects and queries. */
const rest = ({ scene }: Project) => [scene.kind, scene.tieSlack, scene.layers, scene.tags, scene.sides, scene.stances, scene.cameras, scene.states];

/** Whether two definitions of an object differ in where it is and in nothing else. */
function onlyMoved(a: SceneObject, b: SceneObject): boolean {
	const keys = new Set([...Object.keys(a), ...Object.keys(b)]) as Set<keyof SceneObject>;
	for (const key of keys) if (key !== 'position' && key !== 'rotation' && a[key] !== b[key]) return false;
	return true;
}

/** The new definitions of the objects that only moved; null where more has changed. */
export function movesBetween(before: readonly SceneObject[], after: readonly SceneObject[]): Map<string, SceneObject> | null {
	if (before === after) return new Map();
	if (before.length !== after.length) return null;
	const moved = new Map<string, SceneObject>();
	for (let i = 0; i < after.length; i++) {
		const a = before[i] as SceneObject;
		const b = after[i] as SceneObject;
		if (a === b) continue;
		if (a.id !== b.id || !onlyMoved(a, b)) return null;
		moved.set(b.id, b);
	}
	return moved;
}

function standing(project: Project, moment: string | null): Known {
	if (known && known.project === project && known.moment === moment) return known;
	const laid = layOver(project, moment);
	const around = moment === null ? '' : JSON.stringify([laid.cameras, laid.states]);
	if (known && known.moment === moment && known.laid === around && rest(project).every((v, i) => v === rest(known?.project as Project)[i])) {
		const moved = movesBetween(known.objects, laid.objects);
		if (moved && moved.size * 4 <= laid.objects.length + 8) {
			if (moved.size > 0) moveObjects(known.world, moved);
			known = {
				project,
				moment,
				objects: laid.objects,
				laid: around,
				world: withQueries(known.world, laid.queries),
				turn: moved.size > 0 ? ++turns : known.turn,
			};
			return known;
		}
	}
	known = { project, moment, objects: laid.objects, laid: around, world: buildWorld(project, moment), turn: ++turns };
	return known;
}

export const worldOf = (project: Project, moment: string | null): World => standing(project, moment).world;

interface Asked {
	turn: number;
	/** The query and those it hangs on. */
	on: readonly (Query | undefined)[];
	explained: boolean;
	answer: Answer;
	touched: Contender[];
}

const asked = new Map<string, Asked>();
const chained = new WeakMap<Query, string[]>();

/** Queries at whose hit a query starts, ends or measures. */
export function chainsOf(query: Query): string[] {
	let ids = chained.get(query);
	if (!ids) {
		ids = hitsNeeded(query);
		chained.set(query, ids);
	}
	return ids;
}

function hangsOn(world: World, query: Query): (Query | undefined)[] {
	const list: (Query | undefined)[] = [query];
	for (let i = 0; i < list.length; i++)
		for (const id of list[i] ? chainsOf(list[i] as Query) : []) {
			const next = world.queryById.get(id);
			if (!list.includes(next)) list.push(next);
		}
	return list;
}

let last: { of: Known; query: string | null; result: Answers } | null = null;

export function answersOf(project: Project, moment: string | null, query: string | null): Answers {
	const of = standing(project, moment);
	if (last && last.of === of && last.query === query) return last.result;
	const { world, turn } = of;
	const asking = new Asking(world);
	const byQuery = new Map<string, Answer>();
	let touched: Contender[] = [];
	for (const q of world.queries) {
		const on = hangsOn(world, q);
		const before = asked.get(q.id);
		const explained = q.id === query;
		let now = before;
		if (!before || before.turn !== turn || (explained && !before.explained) || before.on.length !== on.length || before.on.some((d, i) => d !== on[i])) {
			const contacts: Contender[] = [];
			const answer = explained ? asking.explain(q, contacts, true) : asking.winner(q);
			now = { turn, on, explained, answer, touched: contacts };
			asked.set(q.id, now);
		}
		if (!now) continue;
		byQuery.set(q.id, now.answer);
		if (explained) touched = now.touched;
	}
	const result = { world, turn, byQuery, current: query === null ? null : (byQuery.get(query) ?? null), touched };
	last = { of, query, result };
	return result;
}
