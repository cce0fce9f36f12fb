/**
 * The path of one query, in the order of the contract: off, waiting; then for every object the filters, the touch, the limits;
 * then sight and choice among those that are left.
 *
 * The same stages run at two speeds: *explain* judges every object and says why; *winner only* judges the objects the tree finds
 * near the query and says nothing of the others.
 */

import { boundsOf } from '../geometry/body';
import { takeOf } from '../project/defaults';
import type { Query } from '../project/schema';
import type { World, WorldObject } from '../world/world';
import { passesNear, wholeBox } from './arc';
import { type Choice, choose } from './choose';
import { conditionHolds, type Filters, filtersOf, filterVerdict, offNotes, passesFilters } from './filters';
import { limitVerdict } from './limits';
import { Met } from './met';
import { isNote, type Point, placementOf, throwAlong } from './placement';
import { depthOf, roomOf } from './room';
import { blocksOnArc, blocksOnPath, sightVerdict } from './sight';
import { beyondEnd, type Contender, missMargin, type Touching, touch, withinAssist } from './touch';
import type { Answer, Note, Selected, Verdict } from './types';

/**
 * Answers of one world, each query asked at most once: chains through `hitOf` share them. A world that has moved wants a new one.
 * @example
 * const answerer = new Answerer(buildWorld(project));
 * const answer = answerer.explain(answerer.world.queries[0]);
 * for (const verdict of answer.verdicts) console.log(verdict.object, wordsOfVerdict(verdict));
 */
export class Answerer {
	private readonly hits = new Map<string, Selected | null>();

	constructor(readonly world: World) {}

	/** First selected object of a query, for anchors that hang on it. */
	readonly hitOf = (id: string): Selected | null => {
		const known = this.hits.get(id);
		if (known !== undefined) return known;
		const query = this.world.queryById.get(id);
		if (!query) throw new RangeError(`no query "${id}"`);
		const hit = this.winner(query).selected[0] ?? null;
		this.hits.set(id, hit);
		return hit;
	};

	/**
	 * Status, selection, notes and a verdict for every object.
	 * @param touched filled with the contact of every object that was touched, chosen or not
	 * @param later measures by how much an object was missed when that is first read: for a screen that shows few of thousands.
	 *   Such verdicts are not plain data, and are to be read before the world moves on
	 */
	explain(query: Query, touched?: Contender[], later = false): Answer {
		const answer = run(this, query, null, touched, undefined, later);
		if (!this.hits.has(query.id) && this.world.queryById.get(query.id) === query)
			this.hits.set(query.id, answer.selected[0] ?? null);
		return answer;
	}

	/**
	 * The same answer without verdicts, from the objects near the query alone.
	 * @param filters those of an earlier call for the same query and world, to save their making
	 */
	winner(query: Query, filters?: Filters): Answer {
		return run(this, query, filters ?? filtersOf(this.world, query));
	}

	/**
	 * As `winner`, with the verdicts of all that was touched: what a game that asks at every step goes by.
	 * @param skip objects answered for that are not to be chosen any more; they still block
	 * @param touchOnly stops when it is known what was touched: the answer then says nothing
	 */
	probe(query: Query, skip?: ReadonlySet<string>, touchOnly = false): Probed {
		const probe: Probe = { touching: null, verdicts: [], touched: [], skip: skip ?? null, touchOnly };
		const answer = run(this, query, filtersOf(this.world, query), undefined, undefined, false, probe);
		if (!touchOnly && !skip && !this.hits.has(query.id) && this.world.queryById.get(query.id) === query)
			this.hits.set(query.id, answer.selected[0] ?? null);
		return { answer, verdicts: probe.verdicts, touched: probe.touched, touching: probe.touching };
	}

	/** As `winner`, with a ray or pick sent along another path. */
	along(query: Query, start: Point, dir: Point, length: number, filters: Filters): Answer {
		return run(this, query, filters, undefined, { start, dir, length });
	}
}

/** What `Answerer.probe` found. */
export interface Probed {
	answer: Answer;
	/** By the place of the object: those that were touched, and no others. */
	verdicts: (Verdict | undefined)[];
	/** The objects that were touched, in file order. */
	touched: WorldObject[];
	/** What they were touched with, until the world moves on; null where the query is off or waits. */
	touching: Touching | null;
}

interface Probe {
	touching: Touching | null;
	verdicts: (Verdict | undefined)[];
	touched: WorldObject[];
	skip: ReadonlySet<string> | null;
	touchOnly: boolean;
}

/** A path to be asked along in place of the query's own. */
interface OtherPath {
	start: Point;
	dir: Point;
	length: number;
}

/** The full answer of one query of a world. */
export function explain(world: World, query: Query): Answer {
	return new Answerer(world).explain(query);
}

/** @param winnerFilters null to explain */
function run(
	answerer: Answerer,
	query: Query,
	winnerFilters: Filters | null,
	touched?: Contender[],
	other?: OtherPath,
	later = false,
	probe: Probe | null = null,
): Answer {
	const { world } = answerer;
	const asker = query.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
	const answer: Answer = { query: query.id, status: 'none', selected: [], tied: [], notes: [], verdicts: [] };
	const off = offNotes(world, query, asker);
	if (off.length > 0) return { ...answer, status: 'off', notes: off };
	const placement = placementOf({ world, query, asker, hitOf: answerer.hitOf });
	if (isNote(placement)) return { ...answer, status: 'waiting', notes: [placement] };

	if (other && placement.path) {
		if (!query.view?.about && placement.viewAxis) placement.viewAxis = viewAlong(query, other.dir);
		placement.path = { ...other, swept: placement.path.swept };
		placement.apex = other.start;
		placement.measuring = other.start;
		if (!asker) placement.approachFrom = other.start;
	}
	if (other && placement.arc && 'arc' in query && query.arc) {
		const { speed } = query.arc;
		const velocity: Point = [speed * other.dir[0], speed * other.dir[1], speed * other.dir[2]];
		if (!query.view?.about && placement.viewAxis) placement.viewAxis = viewAlong(query, other.dir);
		throwAlong(placement, query.arc, other.start, velocity, placement.arc.swept);
		if (!asker) placement.approachFrom = other.start;
	}
	const explaining = winnerFilters === null;
	const filters = winnerFilters ?? filtersOf(world, query);
	const t: Touching = {
		filters,
		placement: placement,
		count: query.startInside === 'count',
		startsInside: new Set(),
		skipped: new Set(),
		pathBody: null,
	};
	if (probe) probe.touching = t;
	const verdicts: (Verdict | undefined)[] = probe?.verdicts ?? new Array(explaining ? world.objects.length : 0);
	const reached: Contender[] = [];
	const near = nearby(t);
	const helped = withinAssist(t);
	const all = explaining || near === null || helped !== null;
	const met = explaining ? new Met(t) : null;
	for (const object of all ? world.objects : [...near].sort((a, b) => a.index - b.index)) {
		const isNear = near === null || near.has(object);
		const isHelped = helped !== null && helped[object.index] === 1;
		if (explaining) {
			const failed = filterVerdict(filters, object);
			if (failed) {
				verdicts[object.index] = isNear && met ? met.told(object, failed) : failed;
				continue;
			}
		} else if (!(isNear || isHelped) || !passesFilters(filters, object)) continue;
		const contact = touch(t, object, isNear, isHelped);
		if (!contact) {
			if (explaining) verdicts[object.index] = later ? new Missed(t, object) : missed(t, object);
			continue;
		}
		touched?.push(contact);
		probe?.touched.push(object);
		if (probe?.touchOnly) continue;
		const limited = limitVerdict(filters, placement, contact);
		if (limited) verdicts[object.index] = limited;
		else reached.push(contact);
	}

	if (probe?.touchOnly) return answer;
	const contenders: Contender[] = [];
	let onPath: ReturnType<typeof blocksOnPath> | null = null;
	if (filters.blockers !== 0 && (explaining || reached.length > 0)) {
		if (placement.path) onPath = blocksOnPath(t);
		else if (placement.arc) onPath = blocksOnArc(t, placement.arc);
	}
	for (const contact of reached) {
		const blocked = sightVerdict(t, onPath, contact);
		if (blocked) verdicts[contact.object.index] = blocked;
		else if (!probe?.skip?.has(contact.object.answersFor.id)) contenders.push(contact);
	}

	const choice = choose(filters, placement, contenders);
	for (const verdict of choice.lost) verdicts[world.objectById.get(verdict.object)?.index ?? 0] = verdict;
	conclude(answer, filters, choice, verdicts, t);
	if (query.kind === 'overlap' && query.room) answer.room = roomOf(filters, placement, query, answer.status);
	if (explaining) answer.verdicts = verdicts as Verdict[];
	return answer;
}

/** The view's middle where it follows the path; `flat` leaves Y out. */
function viewAlong(query: Query, dir: Point): Point {
	if (!query.view?.flat) return dir;
	const length = Math.hypot(dir[0], dir[2]);
	return [dir[0] / length, 0, dir[2] / length];
}

/** The verdict on an object that was not touched, its figures measured when they are first read. */
class Missed implements Verdict {
	readonly object: string;
	readonly stage = 'touch';
	readonly #of: Touching;
	readonly #what: WorldObject;
	#margin: number | null | undefined;
	#beyond: number | null | undefined;

	constructor(of: Touching, what: WorldObject) {
		this.object = what.id;
		this.#of = of;
		this.#what = what;
	}

	get margin(): number | undefined {
		if (this.#margin === undefined) this.#margin = missMargin(this.#of, this.#what) ?? null;
		return this.#margin ?? undefined;
	}

	get beyond(): number | undefined {
		if (this.#beyond === undefined) this.#beyond = beyondEnd(this.#of, this.#what) ?? null;
		return this.#beyond ?? undefined;
	}
}

function missed(t: Touching, object: WorldObject): Verdict {
	const verdict: Verdict = { object: object.id, stage: 'touch' };
	const margin = missMargin(t, object);
	const beyond = beyondEnd(t, object);
	if (margin !== undefined) verdict.margin = margin;
	if (beyond !== undefined) verdict.beyond = beyond;
	return verdict;
}

/** Beside an answer, so that it stays what is printed. */
const equals = new WeakMap<Answer, string[][]>();

/**
 * @param answer of a query that takes several, as it was made: a copy of it tells nothing
 * @returns groups of the selected that the rules could not tell apart: objects as answered for, in file order, which is their order in
 *   the selection; the game may have them in another
 */
export const equalsIn = (answer: Answer): readonly (readonly string[])[] => equals.get(answer) ?? [];

/** From the choice to status, selection, ties and notes. */
function conclude(
	answer: Answer,
	filters: Filters,
	choice: Choice,
	verdicts: (Verdict | undefined)[],
	t: Touching,
): void {
	const { query } = filters;
	const inside = [...t.startsInside].sort((a, b) => a.index - b.index);
	const notes: Note[] = inside.map((object) => ({ code: 'starts-inside', object: object.id }));
	let { taken, tied } = choice;
	let blockers: WorldObject[] = [];
	const only = taken[0];
	if (takeOf(query) === 1 && only && only.contestedBy.length > 0) {
		// As near as its blocker: which of them the game meets first is left to chance.
		blockers = [...only.contestedBy].sort((a, b) => a.index - b.index);
		tied = taken;
		taken = [];
	} else
		for (const c of taken) {
			const by = c.contestedBy[0];
			if (by) notes.push({ code: 'contested', object: c.object.answersFor.id, by: by.id });
		}
	for (const c of taken) verdicts[c.object.index] = { object: c.object.id, stage: 'selected', ...c.marks };
	for (const c of tied) verdicts[c.object.index] = { object: c.object.id, stage: 'tied', ...c.marks };
	answer.status = tied.length > 0 ? 'tie' : taken.length > 0 ? 'selected' : 'none';
	answer.selected = taken.map((c) => selectedOf(filters, c));
	if (query.kind === 'overlap' && query.room)
		answer.selected.forEach((s, i) => {
			s.depth = depthOf(t, taken[i] as Contender);
		});
	answer.tied = [...tied.map((c) => c.object.answersFor.id), ...blockers.map((b) => b.id)];
	answer.notes = notes;
	if (choice.equal.length > 0)
		equals.set(
			answer,
			choice.equal.map((group) => group.map((c) => c.object.answersFor.id)),
		);
}

/** What a prompt names the object by. */
const NAME = '{name}';

/**
 * Action and prompt a player gets of an object by a query: those of the first outcome whose tag it has and whose conditions all hold, else
 * its own. A prompt has the object's name put in.
 */
export function outcomeOf(
	world: World,
	query: Query,
	target: WorldObject,
): { action: string | null; prompt: string | null } {
	const asker = query.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
	const outcome = query.outcomes?.find(
		({ tag, when }) =>
			(tag === undefined || target.tags.has(tag)) &&
			(when === undefined || when.every((condition) => conditionHolds(world, asker, target, condition))),
	);
	const prompt = outcome?.prompt === undefined ? (target.def.prompt ?? null) : outcome.prompt;
	return {
		action: outcome?.action === undefined ? (target.def.action ?? null) : outcome.action,
		// A name is not looked through again.
		prompt: prompt?.includes(NAME) ? prompt.replaceAll(NAME, () => target.def.name ?? target.id) : prompt,
	};
}

function selectedOf(filters: Filters, c: Contender): Selected {
	const target = c.object.answersFor;
	const outcome = outcomeOf(filters.world, filters.query, target);
	return {
		object: target.id,
		through: c.object === target ? null : c.object.id,
		shape: c.shape?.id ?? null,
		distance: c.distance,
		point: c.point,
		normal: c.normal,
		assisted: c.assisted,
		...outcome,
		box: c.box,
		...(c.time === undefined ? {} : { time: c.time }),
		...c.marks,
	};
}

const box = new Float64Array(6);

/** Below this a scene is looked through faster than its tree. */
const FEW_SHAPES = 8;
/** Room for the starts that count as inside, metres; twice what they are held against. */
const AROUND = 2e-6;

/** Objects of which a shape may be touched, those whose boxes the query meets; null for all. */
function nearby(t: Touching): Set<WorldObject> | null {
	const { placement, filters } = t;
	const { world } = filters;
	if (world.shapes.length <= FEW_SHAPES) return null;
	const seen = new Set<WorldObject>();
	const add = (index: number) => {
		seen.add(world.shapes[index].object);
	};
	const bounds = world.bounds();
	/** A leaf of the tree has several shapes: of most of them not even their own box meets the query's. */
	const addIfMet = (index: number) => {
		const b = 6 * index;
		if (
			bounds[b] <= box[3] &&
			bounds[b + 3] >= box[0] &&
			bounds[b + 1] <= box[4] &&
			bounds[b + 4] >= box[1] &&
			bounds[b + 2] <= box[5] &&
			bounds[b + 5] >= box[2]
		)
			seen.add(world.shapes[index].object);
	};
	const { path, arc } = placement;
	if (arc) {
		wholeBox(arc, box);
		world.tree().overlap(box, (index) => {
			if (passesNear(arc, bounds, 6 * index)) add(index);
		});
	} else if (placement.flatPick && path) {
		box.set([path.start[0] - AROUND, path.start[1] - AROUND, -1, path.start[0] + AROUND, path.start[1] + AROUND, 1]);
		world.tree().overlap(box, add);
	} else if (path) {
		let [x, y, z] = path.start;
		let [ex, ey, ez] = [0, 0, 0];
		if (path.swept) {
			boundsOf(path.swept, box);
			x = (box[0] + box[3]) / 2;
			y = (box[1] + box[4]) / 2;
			z = (box[2] + box[5]) / 2;
			ex = box[3] - x;
			ey = box[4] - y;
			ez = box[5] - z;
		}
		world.tree().walk(x, y, z, ...path.dir, path.length, ex + AROUND, ey + AROUND, ez + AROUND, (index, limit) => {
			add(index);
			return limit;
		});
	} else
		for (const volume of placement.volumes) {
			boundsOf(volume.body, box);
			for (let k = 0; k < 3; k++) {
				box[k] -= placement.grow + AROUND;
				box[k + 3] += placement.grow + AROUND;
			}
			world.tree().overlap(box, addIfMet);
		}
	return seen;
}
