/**
 * World and answers derived from the project, kept for as long as what they hang on stays the same. An edit makes new what it
 * touches and nothing else: a moved object moves in the world there is, a changed query is asked again, and so are those that start
 * at its hit. Each bench has a deriver of its own, and publishes what it derives as one value.
 */
import {
	type Answer,
	Answerer,
	applyMoment,
	buildWorld,
	type Contender,
	moveObjects,
	type Project,
	type Query,
	type SceneObject,
	type Verdict,
	type World,
	withQueries,
} from '@frelk/core';
import { hitsNeeded, onlyMoved } from '@frelk/core/editing';

/** The verdict on an object: they stand in the order of the objects. None where the query is off or waiting. */
export const verdictOn = (world: World, answer: Answer | null, object: string): Verdict | undefined =>
	answer?.verdicts[world.objectById.get(object)?.index ?? -1];

export interface Derived {
	/** Another number for every new value. */
	readonly revision: number;
	readonly world: World;
	/** The world as it was built: the same one, with the same objects, until objects or what is around them become others. */
	readonly built: World;
	/** Another number whenever an object of the world has moved or the world was built anew. */
	readonly movement: number;
	/** Every query's answer; the one in hand with all its verdicts. */
	readonly byQuery: ReadonlyMap<string, Answer>;
	readonly current: Answer | null;
	/** Contacts of the query in hand: of every object it touched, chosen or not. */
	readonly touched: readonly Contender[];
}

/** The scene as it stands, with what it was made from. */
interface Standing {
	project: Project;
	moment: string | null;
	objects: readonly SceneObject[];
	/** What a moment makes of cameras and states, to be told from the last. */
	laid: string;
	world: World;
	built: World;
	/** Answers of another movement are out of date. */
	movement: number;
}

interface Asked {
	movement: number;
	/** The query and those it hangs on. */
	on: readonly (Query | undefined)[];
	explained: boolean;
	answer: Answer;
	touched: Contender[];
}

/** What a world is made of besides objects and queries. */
const rest = ({ scene }: Project) => [
	scene.kind,
	scene.tieSlack,
	scene.layers,
	scene.tags,
	scene.sides,
	scene.stances,
	scene.cameras,
	scene.states,
];

/** The new definitions of the objects that only moved; null where more has changed. */
export function movesBetween(
	before: readonly SceneObject[],
	after: readonly SceneObject[],
): Map<string, SceneObject> | null {
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

/** Derives for one bench. Objects that only move are moved in the world of the value before, which is then out of date. */
type Deriver = (project: Project, moment: string | null, query: string | null) => Derived;

export function createDeriver(): Deriver {
	let standing: Standing | null = null;
	let last: { of: Standing; query: string | null; derived: Derived } | null = null;
	let movements = 0;
	let revisions = 0;
	const asked = new Map<string, Asked>();

	const stand = (project: Project, moment: string | null): Standing => {
		const before = standing;
		if (before && before.project === project && before.moment === moment) return before;
		const laid = applyMoment(project, moment);
		const around = moment === null ? '' : JSON.stringify([laid.cameras, laid.states]);
		const kept = before ? rest(before.project) : [];
		if (
			before &&
			before.moment === moment &&
			before.laid === around &&
			rest(project).every((part, i) => part === kept[i])
		) {
			const moved = movesBetween(before.objects, laid.objects);
			if (moved && moved.size * 4 <= laid.objects.length + 8) {
				if (moved.size > 0) moveObjects(before.world, moved);
				const movement = moved.size > 0 ? ++movements : before.movement;
				return {
					...before,
					project,
					objects: laid.objects,
					world: withQueries(before.world, laid.queries),
					movement: movement,
				};
			}
		}
		const world = buildWorld(project, moment);
		return { project, moment, objects: laid.objects, laid: around, world, built: world, movement: ++movements };
	};

	const ask = (answerer: Answerer, q: Query, explained: boolean, movement: number): Asked => {
		const on = hangsOn(answerer.world, q);
		const before = asked.get(q.id);
		const same =
			before?.movement === movement && before.on.length === on.length && before.on.every((other, i) => other === on[i]);
		if (before && same && (before.explained || !explained)) return before;
		const touched: Contender[] = [];
		const answer = explained ? answerer.explain(q, touched, true) : answerer.winner(q);
		const now = { movement, on, explained, answer, touched };
		asked.set(q.id, now);
		return now;
	};

	return (project, moment, query) => {
		standing = stand(project, moment);
		if (last && last.of === standing && last.query === query) return last.derived;
		const { world, built, movement } = standing;
		const answerer = new Answerer(world);
		const byQuery = new Map<string, Answer>();
		let inHand: Asked | null = null;
		for (const q of world.queries) {
			const now = ask(answerer, q, q.id === query, movement);
			byQuery.set(q.id, now.answer);
			if (q.id === query) inHand = now;
		}
		const derived = {
			revision: ++revisions,
			world,
			built,
			movement,
			byQuery,
			current: inHand?.answer ?? null,
			touched: inHand?.touched ?? [],
		};
		last = { of: standing, query, derived };
		return derived;
	};
}
