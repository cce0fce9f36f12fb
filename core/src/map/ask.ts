/**
 * One map asked: what its query answers in each cell, everything else as it stands (contract §13.1, §13.2). Filters and frames are made
 * once; rays go through the winner's walk, which shares its memory from one to the next.
 */
import { eulerOf, rotationOf, sinCos, turned } from '../geometry/matrix';
import { type MapGrid, mapGrid } from '../project/map-grid';
import { applyMoment } from '../project/moment';
import type { Project, Query, QueryMap, SceneObject, Vec3 } from '../project/schema';
import { Answerer, type Probed } from '../query/answer';
import { rulesOf } from '../query/choose';
import { type Filters, filtersOf } from '../query/filters';
import type { Answer } from '../query/types';
import { gapBetween } from '../space/cast';
import {
	hangsUnder,
	maskOf,
	moveObjects,
	type World,
	type WorldObject,
	type WorldShape,
	worldOf,
} from '../world/world';
import { type Asked, type Block, CELL, UNSETTLED } from './cell';
import { CursorRays } from './cursor-rays';

/** What counts as touching where a place has to be clear, metres. */
const TOUCHES = 1e-9;

/** An answer of a map: its value, and the objects selected where that says more. */
interface CellAnswer {
	/** Place of the first selected object in the file, as answered for, or one of `CELL`. */
	value: number;
	/** Places of all that are selected; null where it is the value alone, or nothing. */
	selected: number[] | null;
}

/** Asks the cells of one map, in any order; where the asker moves, neighbours cost least one after the other. */
export class MapAsker {
	readonly grid: MapGrid;
	readonly query: Query;
	/** The map's scene; where the asker moves, as it stands for the last answer. */
	readonly world: World;
	private answerer: Answerer;
	private readonly indexOf: Map<string, number>;
	private readonly asker: SceneObject | null;
	private readonly quick: CursorRays | null;
	/** What passes hangs neither on the cursor, nor on the aim, nor on where the asker stands. */
	private readonly filters: Filters;
	private stoodAt = -1;
	/** Solid shapes that may touch nothing, and what they may not touch. */
	private readonly own: WorldShape[] = [];
	private readonly blocking: WorldShape[] = [];

	/**
	 * @param map of the project, valid
	 * @throws RangeError for a map whose query it cannot ask
	 */
	constructor(
		project: Project,
		readonly map: QueryMap,
	) {
		const grid = mapGrid(project, map);
		const laid = applyMoment(project, map.moment ?? null);
		const query = laid.queries.find((q) => q.id === map.query);
		if (!grid || !query) throw new RangeError(`the map "${map.id}" cannot ask "${map.query}"`);
		this.grid = grid;
		this.query = query;
		let { objects } = laid;
		this.asker = null;
		if (map.kind === 'floor') {
			const asker = objects.find((o) => o.id === query.asker);
			if (!asker) throw new RangeError(`the floor map "${map.id}" has no asker to move`);
			// Freed of its parent, its size in the world, its height and the way it is turned kept.
			const stands = worldOf(project, map.moment ?? null, laid).objectById.get(asker.id);
			const { parent: _, ...free } = asker;
			const freed: SceneObject = {
				...free,
				position: stands?.position ?? [0, 0, 0],
				// Without a parent its own figures, which no rounding has been through.
				rotation: asker.parent === undefined || !stands ? (asker.rotation ?? [0, 0, 0]) : eulerOf(stands.rotation),
				scale: stands?.scale ?? [1, 1, 1],
			};
			this.asker = freed;
			objects = objects.map((o) => (o === asker ? freed : o));
		}
		this.world = worldOf(project, map.moment ?? null, { ...laid, objects });
		this.world.tree();
		this.answerer = new Answerer(this.world);
		this.filters = filtersOf(this.world, query);
		this.indexOf = new Map(this.world.objects.map((o) => [o.id, o.index]));
		// Where the answer hangs on the cursor and not on its ray alone, each is asked for itself.
		const onRay = !('assist' in query && query.assist) && !rulesOf(query).some((r) => r.rule === 'cursor');
		this.quick =
			map.kind === 'cursor' && onRay && !this.world.flat && query.kind === 'pick'
				? new CursorRays(this.world, query, grid, map.cell ?? 4)
				: null;
		if (map.kind === 'floor' && map.clear) this.findBlocking(map.clear.layers);
	}

	private findBlocking(layers: readonly string[] | 'all'): void {
		const asker = this.world.objectById.get(this.query.asker ?? '');
		if (!asker) return;
		const mask = maskOf(this.world, layers);
		for (const object of this.world.objects) {
			if (!object.active) continue;
			const mine = hangsUnder(object, asker);
			for (const shape of object.shapes)
				if (!shape.sensor && (mine || (shape.layer & mask) !== 0)) (mine ? this.own : this.blocking).push(shape);
		}
	}

	get answers(): number {
		return this.grid.columns * this.grid.rows * this.grid.headings;
	}

	/** How many objects there are. */
	get objects(): number {
		return this.world.objects.length;
	}

	/** The objects of the map's scene, in file order. */
	everyone(): readonly WorldObject[] {
		return this.world.objects;
	}

	/** Whether an object stands elsewhere from one answer to the next. */
	moves(object: WorldObject): boolean {
		const asker = this.asker && this.world.objectById.get(this.asker.id);
		return asker ? hangsUnder(object, asker) : false;
	}

	/** Ids by the places that values name. */
	idOf(index: number): string {
		return this.world.objects[index]?.id ?? '';
	}

	/** Weight of an answer: of directions the cosine of their pitch, else 1. @param row from the top, or the first */
	weight(row: number): number {
		const { map } = this;
		if (map.kind !== 'aim') return 1;
		return sinCos((map.pitch?.[1] ?? 0) - row * (map.every ?? 1))[1];
	}

	/** @param at place among all answers in printed order: row by row, headings innermost */
	ask(at: number): CellAnswer {
		if (this.quick) {
			const { columns } = this.grid;
			const value = this.quick.ask(at % columns, Math.floor(at / columns));
			if (value !== UNSETTLED) return { value, selected: null };
		}
		const query = this.stand(at);
		return query ? this.told(this.answerer.winner(query, this.filters)) : { value: CELL.out, selected: null };
	}

	/**
	 * Asks a block of cells: one after the other, or along rays that share their walk.
	 * @param also told of what is selected in a cell beside the object that is its value
	 */
	askBlock(block: Block, asked: Asked, also: (row: number, object: number) => void): void {
		const [x0, y0, x1, y1] = block;
		const { known, values, base } = asked;
		const { columns, headings } = this.grid;
		if (this.quick) this.quick.askBlock(block, asked);
		for (let row = y0; row < y1; row++)
			for (let i = (row * columns + x0) * headings, end = i + (x1 - x0) * headings; i < end; i++) {
				if (known?.[i] || (this.quick && values[i - base] !== UNSETTLED)) continue;
				const { value, selected } = this.ask(i);
				values[i - base] = value;
				for (const object of selected ?? []) if (object !== value) also(row, object);
			}
	}

	/** The full answer; null where there is no place to stand. */
	explain(at: number): Answer | null {
		const query = this.stand(at);
		return query && this.answerer.explain(query);
	}

	/** What is touched, and the verdicts on that, to be read before the next is asked; null where there is no place to stand. */
	probe(at: number): Probed | null {
		const query = this.stand(at);
		return query && this.answerer.probe(query);
	}

	private told({ status, selected, room }: Answer): CellAnswer {
		const places = selected.map((s) => this.indexOf.get(s.object) as number);
		if (status === 'off' || status === 'waiting') return { value: CELL.off, selected: null };
		if (status === 'tie') return { value: CELL.tie, selected: places.length > 0 ? places : null };
		const [first] = places;
		if (first === undefined)
			return { value: room?.free && room.bears !== room.of ? CELL.unborne : CELL.none, selected: null };
		return { value: first, selected: places.length > 1 ? places : null };
	}

	private cursor(at: number): [number, number] {
		const { columns } = this.grid;
		const cell = this.map.cell ?? 4;
		return [((at % columns) + 0.5) * cell, (Math.floor(at / columns) + 0.5) * cell];
	}

	/** Puts what moves where the answer is asked. @returns the query as it is asked there; null where there is no place */
	private stand(at: number): Query | null {
		const { map, query } = this;
		const { columns, headings } = this.grid;
		if (map.kind === 'cursor') return { ...query, cursor: this.cursor(at) } as Query;
		if (map.kind === 'aim') {
			const every = map.every ?? 1;
			const yaw = (map.yaw?.[0] ?? 0) + (at % columns) * every;
			const pitch = (map.pitch?.[1] ?? 0) - Math.floor(at / columns) * every;
			const along = turned(rotationOf([yaw, pitch, 0]), 0, 0, -1);
			const of = 'aim' in query ? query.aim?.of : undefined;
			return { ...query, aim: { along, ...(of === undefined ? {} : { of }) } } as Query;
		}
		const asker = this.asker as SceneObject;
		if (this.stoodAt !== at) {
			const [k, place] = [at % headings, Math.floor(at / headings)];
			const every = map.every ?? 1;
			const u = (map.area?.min[0] ?? 0) + (place % columns) * every;
			const v = (map.area?.min[1] ?? 0) + Math.floor(place / columns) * every;
			const was = asker.position ?? [0, 0, 0];
			const turn = (360 * k) / headings;
			const position: Vec3 = this.world.flat ? [u, v, was[2]] : [u, map.y ?? was[1], v];
			const [yaw, pitch, roll] = asker.rotation ?? [0, 0, 0];
			const rotation: Vec3 = this.world.flat ? [0, 0, roll + turn] : [yaw + turn, pitch, roll];
			moveObjects(this.world, new Map([[asker.id, { ...asker, position, rotation }]]));
			this.answerer = new Answerer(this.world);
			this.stoodAt = at;
		}
		if (this.own.some((a) => this.blocking.some((b) => this.touches(a, b)))) return null;
		return query;
	}

	private touches(a: WorldShape, b: WorldShape): boolean {
		const bounds = this.world.bounds();
		const at = (shape: WorldShape, k: number) => bounds[6 * shape.index + k];
		for (let k = 0; k < 3; k++)
			if (at(a, k) > at(b, k + 3) + TOUCHES || at(b, k) > at(a, k + 3) + TOUCHES) return false;
		return gapBetween(a.body, b.body, TOUCHES) <= TOUCHES;
	}
}
