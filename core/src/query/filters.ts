/** The stages that look at what an object is, not where: inactive, excluded, layer, tags, side, state, role. */
import type { Condition, Query, Stance, StateValue } from '../project/schema';
import { hangsUnder, maskOf, tagMask, type World, type WorldObject, type WorldShape } from '../world/world';
import type { Note, Verdict } from './types';

/** What a query's filters come to in one world; valid as long as the world's objects only move. */
export interface Filters {
	world: World;
	query: Query;
	asker: WorldObject | null;
	/** One byte an object: excluded itself (asker, ignored, model of a volume, and what hangs under them). */
	excluded: Uint8Array;
	layers: number;
	solid: boolean;
	sensor: boolean;
	any: readonly string[];
	all: readonly string[];
	none: readonly string[];
	/** The three lists as bits; null where a list does not filter. */
	anyBits: Uint32Array | null;
	allBits: Uint32Array | null;
	noneBits: Uint32Array | null;
	stances: readonly Stance[] | null;
	target: readonly Condition[];
	/** Layers that stop the query; 0 for none. */
	blockers: number;
	blockingSensors: boolean;
	/** Verdicts already found, by object: what an object is does not change while things only move. */
	known: (Verdict | null | undefined)[];
}

/**
 * The last filters of each query, by the objects of its world: while a cursor is dragged only the query's other parts are new, and
 * a world seen with other queries (`withQueries`) has the same objects.
 */
const remembered = new WeakMap<WorldObject[], Map<string, Filters>>();

const volumeOf = (query: Query) => (query.kind === 'overlap' ? query.shape : null);

/**
 * The filters of a query in a world, made once and kept for as long as what they hang on is the very same.
 * @returns them with what they have already found
 */
export function filtersOf(world: World, query: Query): Filters {
	let byQuery = remembered.get(world.objects);
	if (!byQuery) {
		byQuery = new Map();
		remembered.set(world.objects, byQuery);
	}
	const last = byQuery.get(query.id);
	const before = last?.query;
	if (
		last &&
		before &&
		before.selects === query.selects &&
		before.sight === query.sight &&
		before.asker === query.asker &&
		before.ignore === query.ignore &&
		volumeOf(before) === volumeOf(query)
	)
		return { ...last, world, query };
	const made = makeFilters(world, query);
	byQuery.set(query.id, made);
	return made;
}

function makeFilters(world: World, query: Query): Filters {
	const asker = query.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
	const roots: WorldObject[] = asker ? [asker] : [];
	for (const id of query.ignore ?? []) {
		const object = world.objectById.get(id);
		if (object) roots.push(object);
	}
	if (query.kind === 'overlap' && 'like' in query.shape) {
		const model = world.objectById.get(query.shape.like);
		if (model) roots.push(model);
	}
	const excluded = new Uint8Array(world.objects.length);
	if (roots.length > 0)
		for (const object of world.objects) if (roots.some((root) => hangsUnder(object, root))) excluded[object.index] = 1;
	const { selects, sight } = query;
	return {
		world,
		query,
		asker,
		excluded,
		layers: maskOf(world, selects?.layers),
		solid: selects?.roles?.includes('solid') ?? true,
		sensor: selects?.roles?.includes('sensor') ?? true,
		any: selects?.tags?.any ?? [],
		all: selects?.tags?.all ?? [],
		none: selects?.tags?.none ?? [],
		anyBits: tagMask(world, selects?.tags?.any),
		allBits: tagMask(world, selects?.tags?.all),
		noneBits: tagMask(world, selects?.tags?.none),
		stances: selects?.stances ?? null,
		target: (selects?.when ?? []).filter((c) => c.of === 'target'),
		blockers: sight?.blockers === undefined ? 0 : maskOf(world, sight.blockers),
		blockingSensors: sight?.sensors ?? false,
		known: new Array(world.objects.length),
	};
}

/** Notes that turn the whole query off; empty when it is on. */
export function offNotes(world: World, query: Query, asker: WorldObject | null): Note[] {
	if (query.enabled === false) return [{ code: 'disabled' }];
	const notes: Note[] = [];
	for (const condition of query.selects?.when ?? []) {
		if (condition.of === 'target') continue;
		const states = condition.of === 'scene' ? world.states : (asker?.states ?? {});
		if (!holds(condition, stateOf(states, condition.state)))
			notes.push({ code: 'condition', of: condition.of, state: condition.state });
	}
	return notes;
}

/** Whether a condition holds: of an object, its asker or the scene. */
export function conditionHolds(
	world: World,
	asker: WorldObject | null,
	target: WorldObject,
	condition: Condition,
): boolean {
	const { of, state } = condition;
	const states = of === 'target' ? target.states : of === 'scene' ? world.states : (asker?.states ?? {});
	return holds(condition, stateOf(states, state));
}

function stateOf(states: Record<string, StateValue>, state: string): StateValue | null {
	return Object.hasOwn(states, state) ? (states[state] as StateValue) : null;
}

/** A missing state equals both false and 0; true counts 1. */
function holds(condition: Condition, value: StateValue | null): boolean {
	const { is, above, below } = condition;
	if (is !== undefined && !(value === null ? is === false || is === 0 : value === is)) return false;
	const n = Number(value ?? 0);
	if (above !== undefined && !(n > above)) return false;
	return below === undefined || n < below;
}

/** How the asker's side regards the object's: a listed pair wins; else the same side is friendly, all other neutral. */
function stanceToward(world: World, asker: WorldObject | null, object: WorldObject): Stance {
	const from = asker?.def.side;
	const to = object.def.side;
	if (from === undefined || to === undefined) return 'neutral';
	const listed = world.project.scene.stances?.find((s) => s.from === from && s.to === to);
	if (listed) return listed.stance;
	return from === to ? 'friendly' : 'neutral';
}

const excludedAt = (f: Filters, object: WorldObject) =>
	f.excluded[object.index] === 1 || f.excluded[object.answersFor.index] === 1;

export const isActive = (object: WorldObject): boolean => object.active && object.answersFor.active;

/** Whether a shape of this layer and role can be chosen. */
export const isEligible = (f: Filters, shape: WorldShape): boolean =>
	(shape.layer & f.layers) !== 0 && (shape.sensor ? f.sensor : f.solid);

/** @returns the verdict of the first filter the object fails, or null when it passes all of them */
export function filterVerdict(f: Filters, object: WorldObject): Verdict | null {
	const known = f.known[object.index];
	if (known !== undefined) return known;
	const found = findVerdict(f, object);
	f.known[object.index] = found;
	return found;
}

function findVerdict(f: Filters, object: WorldObject): Verdict | null {
	const { world } = f;
	const target = object.answersFor;
	if (!isActive(object)) return { object: object.id, stage: 'inactive' };
	if (excludedAt(f, object)) return { object: object.id, stage: 'excluded' };
	const { shapes } = object;
	if (!onLayers(f, object)) {
		const layers: string[] = shapes.length === 0 ? [object.def.layer] : [];
		for (const shape of shapes) {
			const layer = shape.def.layer ?? object.def.layer;
			if (!layers.includes(layer)) layers.push(layer);
		}
		return { object: object.id, stage: 'layer', layers };
	}
	if (!tagsPass(f, target)) {
		const { tags } = target;
		const missing: string[] = [];
		const forbidden: string[] = [];
		for (const tag of f.all) if (!tags.has(tag) && !missing.includes(tag)) missing.push(tag);
		let any = f.any.length === 0;
		for (const tag of f.any) any ||= tags.has(tag);
		if (!any) for (const tag of f.any) if (!missing.includes(tag)) missing.push(tag);
		for (const tag of f.none) if (tags.has(tag) && !forbidden.includes(tag)) forbidden.push(tag);
		return { object: object.id, stage: 'tags', missing, forbidden };
	}
	if (f.stances) {
		const stance = stanceToward(world, f.asker, target);
		if (!f.stances.includes(stance)) return { object: object.id, stage: 'side', stance };
	}
	for (const condition of f.target) {
		const value = stateOf(target.states, condition.state);
		if (!holds(condition, value)) return { object: object.id, stage: 'state', condition, value };
	}
	if (shapes.length > 0 && !hasEligible(f, shapes)) {
		const first = shapes.find((s) => (s.layer & f.layers) !== 0);
		return { object: object.id, stage: 'role', role: first?.sensor ? 'sensor' : 'solid' };
	}
	return null;
}

function onLayers(f: Filters, object: WorldObject): boolean {
	if (object.shapes.length === 0) return (object.layer & f.layers) !== 0;
	for (const shape of object.shapes) if ((shape.layer & f.layers) !== 0) return true;
	return false;
}

function hasEligible(f: Filters, shapes: readonly WorldShape[]): boolean {
	for (const shape of shapes) if (isEligible(f, shape)) return true;
	return false;
}

function tagsPass(f: Filters, target: WorldObject): boolean {
	const { tagBits, tagWords } = f.world;
	const { anyBits, allBits, noneBits } = f;
	const at = target.index * tagWords;
	let any = anyBits === null;
	for (let k = 0; k < tagWords; k++) {
		const bits = tagBits[at + k];
		if (allBits !== null && (allBits[k] & ~bits) !== 0) return false;
		if (noneBits !== null && (noneBits[k] & bits) !== 0) return false;
		if (anyBits !== null && (anyBits[k] & bits) !== 0) any = true;
	}
	return any;
}

/** The same question as `filterVerdict`, without the reason. */
export function passesFilters(f: Filters, object: WorldObject): boolean {
	const target = object.answersFor;
	if (!isActive(object) || excludedAt(f, object)) return false;
	const { shapes } = object;
	if (!onLayers(f, object) || (shapes.length > 0 && !hasEligible(f, shapes))) return false;
	if (!tagsPass(f, target)) return false;
	if (f.stances && !f.stances.includes(stanceToward(f.world, f.asker, target))) return false;
	for (const condition of f.target) if (!holds(condition, stateOf(target.states, condition.state))) return false;
	return true;
}

/** Whether an object is there for a query at all: active, and not left out of it. */
export const stands = (f: Filters, object: WorldObject): boolean => isActive(object) && !excludedAt(f, object);

/** Whether a shape stops the query at all; whether it stops a given candidate also depends on whom both answer for. */
export function isBlocker(f: Filters, shape: WorldShape): boolean {
	return (shape.layer & f.blockers) !== 0 && (!shape.sensor || f.blockingSensors) && stands(f, shape.object);
}
