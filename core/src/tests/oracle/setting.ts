/** Where a query is: anchors, directions, its path or its volumes, as the contract says in order. */
import type { Anchor, Arc, Direction, Project, Query } from '../../project/schema';
import type { Answer } from '../../query/types';
import { type Frame, figureOf, frameAt, type Place, placedIn, type Thing, UNTURNED } from './scene';
import { type Axes, add, axesOf, type Convex, compose, grown, norm, pointSet, sub, turn, unit, type V } from './sets';

/** An answer with how near the nearest comparison was to its limit: below about 1e-5 implementations may differ. */
export interface Expected {
	answer: Answer;
	edge: number;
}

export interface Contact {
	shape: string | null;
	distance: number;
	point: V;
	normal: V | null;
	assisted: boolean;
	box: number | null;
	time?: number;
}

/** A straight piece of what is thrown. */
export interface Piece {
	start: V;
	way: V;
	length: number;
	from: number;
	k: number;
}

export class Waiting extends Error {
	constructor(readonly note: Answer['notes'][number]) {
		super(note.code);
	}
}

const FORWARD: V = [0, 0, -1];

/** What a query is asked of: the place, and the answers of the other queries. */
interface Others {
	readonly place: Place;
	answer(query: Query): Expected;
}

export class Setting {
	readonly place: Place;
	readonly flatPick: boolean;
	readonly volume: boolean;
	readonly asker: Thing | undefined;
	readonly slack: number;
	edge = Number.POSITIVE_INFINITY;
	start: V = [0, 0, 0];
	way: V = [0, 0, 0];
	length = 0;
	/** The swept shape about its centre, or the point of a ray; the volume where it stands. */
	mover: Convex[] = [pointSet([[0, 0, 0]])];
	boxes: { from: number; set: Convex }[] = [];
	rangeFrom: V = [0, 0, 0];
	about: V = [0, 0, 0];
	apex: V = [0, 0, 0];
	sightFrom: V = [0, 0, 0];
	/** Of an arc. */
	pieces: Piece[] = [];
	step = 0;
	readonly inside = new Set<string>();

	constructor(
		readonly oracle: Others,
		readonly query: Query,
	) {
		this.place = oracle.place;
		this.flatPick = this.place.flat && query.kind === 'pick';
		this.volume = query.kind === 'overlap' || query.kind === 'hitbox';
		this.asker = query.asker === undefined ? undefined : this.place.byId.get(query.asker);
		this.slack = this.place.project.scene.tieSlack ?? 0.001;
	}

	/** value ≤ limit, remembering how close it was. */
	within(value: number, limit: number): boolean {
		this.edge = Math.min(this.edge, Math.abs(value - limit));
		return value <= limit;
	}

	/** In flat scenes every query but a pick takes all at Z = 0. */
	level(p: V): V {
		return this.place.flat ? [p[0], p[1], 0] : p;
	}

	focusOf(t: Thing): V {
		return this.level(t.focus);
	}

	anchor(a: Anchor): V {
		const p = this.rawAnchor(a);
		return this.level(p);
	}

	rawAnchor(a: Anchor): V {
		if (a.point) return a.point;
		if (a.object !== undefined) return placedIn((this.place.byId.get(a.object) as Thing).frame, a.offset ?? [0, 0, 0]);
		if (a.focus !== undefined) return (this.place.byId.get(a.focus) as Thing).focus;
		if (a.camera !== undefined) return (this.place.cameras.get(a.camera) as { frame: Frame }).frame.position;
		const other = this.oracle.answer(this.place.queries.find((q) => q.id === a.hitOf) as Query);
		this.edge = Math.min(this.edge, other.edge);
		// The contact of a sweep is found here to few digits only.
		if (this.place.queries.find((q) => q.id === a.hitOf)?.kind === 'sweep') this.edge = 0;
		const hit = other.answer.selected[0];
		if (!hit) throw new Waiting({ code: 'waiting', on: a.hitOf as string });
		return hit.normal ? add(hit.point, hit.normal, a.off ?? 0) : hit.point;
	}

	direction(d: Direction, from: V): V {
		let v: V;
		if (d.toward) v = sub(this.anchor(d.toward), from);
		else {
			const along = d.along ?? [0, 0, 0];
			const frame =
				d.of === undefined
					? UNTURNED
					: (this.place.byId.get(d.of)?.frame ?? (this.place.cameras.get(d.of)?.frame as Frame));
			v = this.level(turn(frame.axes, along));
		}
		return v;
	}

	/** A unit vector; a direction of no length makes the answer wait. */
	needed(v: V): V {
		this.edge = Math.min(
			this.edge,
			Math.abs(norm(v) - 1e-9) > 1e-6 ? Number.POSITIVE_INFINITY : norm(v) < 1e-10 ? Number.POSITIVE_INFINITY : 0,
		);
		if (norm(v) <= 1e-9) throw new Waiting({ code: 'zero-direction' });
		return unit(v);
	}

	setUp(): void {
		const { query, place } = this;
		if (query.kind === 'ray' || query.kind === 'sweep') {
			this.start = this.anchor(query.from);
			if (query.arc) this.throwIt(query.arc, query.aim);
			const v = query.arc
				? this.way
				: query.to
					? sub(this.anchor(query.to), this.start)
					: this.direction(query.aim as Direction, this.start);
			this.way = this.needed(v);
			this.length = query.arc ? 0 : query.to ? norm(v) : (query.length ?? 1000);
			if (query.kind === 'sweep')
				this.mover = figureOf(
					query.shape as never,
					{ ...UNTURNED, axes: axesOf(query.rotation ?? [0, 0, 0]) },
					place.flat,
					0,
				).parts;
		} else if (query.kind === 'pick') this.setUpPick();
		else if (query.kind === 'overlap') this.setUpOverlap();
		else {
			const asker = this.asker as Thing;
			this.start = this.level(asker.frame.position);
			this.boxes = query.boxes.map((b) => ({
				from: b.from ?? 0,
				set: figureOf(b.shape, asker.frame, place.flat, 0, b.at, b.rotation).parts[0] as Convex,
			}));
			this.mover = this.boxes.map((b) => b.set);
		}
		this.apex = this.start;
		if (this.volume && this.asker) {
			const at = query.kind === 'overlap' ? query.at : { object: this.asker.source.id };
			const on =
				at.object ?? at.focus ?? (at.camera === undefined ? undefined : place.cameras.get(at.camera)?.source.object);
			if (on !== undefined && place.byId.get(on)?.line.includes(this.asker.source.id))
				this.apex = this.focusOf(this.asker);
		}
		this.rangeFrom = query.range?.from ? this.anchor(query.range.from) : this.start;
		const forward = (): V => this.level(turn((this.asker as Thing).frame.axes, place.flat ? [1, 0, 0] : FORWARD));
		if (query.view) {
			const raw = query.view.about ? this.direction(query.view.about, this.apex) : this.volume ? forward() : this.way;
			// A way is a unit vector before height is left out.
			const whole = this.needed(raw);
			this.about = this.needed(query.view.flat ? [whole[0], 0, whole[2]] : whole);
		} else if (query.choose?.by?.some((r) => r.rule === 'aim')) this.about = this.volume ? forward() : this.way;
		this.sightFrom = query.sight?.from ? this.anchor(query.sight.from) : this.apex;
	}

	/** The first velocity, and the pieces of the way. */
	throwIt(arc: Arc, aim: Direction | undefined): void {
		const { speed, gravity = 9.81, time = 5, step = 1 / 60, at, high = false } = arc;
		let v: V;
		if (at) {
			const to = sub(this.anchor(at), this.start);
			const x = Math.sqrt(to[0] * to[0] + to[2] * to[2]);
			const y = to[1];
			const s2 = speed * speed;
			const s4 = s2 * s2;
			const d = s4 - gravity * (gravity * x * x + 2 * y * s2);
			// How steep it is hangs on the root of D.
			if (Math.abs(d) < 1e-6 * s4) this.edge = 0;
			if (at.hitOf !== undefined && Math.abs(d) < 1e-3 * s4) this.edge = 0;
			if (d < 0)
				throw new Waiting({ code: 'out-of-reach', on: 'arc', speed: Math.sqrt(gravity * (y + Math.hypot(x, y))) });
			const straight = this.needed(to);
			if (gravity === 0) v = add([0, 0, 0], straight, speed);
			else if (x <= 1e-9) v = [0, (high || y > 0 ? 1 : -1) * speed, 0];
			else {
				const angle = Math.atan((s2 + (high ? 1 : -1) * Math.sqrt(d)) / (gravity * x));
				const out = Math.cos(angle) * speed;
				v = [(out * to[0]) / x, Math.sin(angle) * speed, (out * to[2]) / x];
			}
		} else v = add([0, 0, 0], this.needed(this.direction(aim as Direction, this.start)), speed);
		this.step = step;
		const point = (k: number): V => {
			const t = k * step;
			return [this.start[0] + v[0] * t, this.start[1] + v[1] * t - (gravity * t * t) / 2, this.start[2] + v[2] * t];
		};
		let from = 0;
		for (let k = 0; k < Math.floor(time / step + 1e-9); k++) {
			const way = sub(point(k + 1), point(k));
			const length = norm(way);
			if (length < 1e-9) continue;
			this.pieces.push({ start: point(k), way: unit(way), length, from, k });
			from += length;
		}
		if (this.pieces.length === 0) throw new Waiting({ code: 'zero-direction' });
		this.way = unit(v);
	}

	setUpPick(): void {
		const { query } = this;
		if (query.kind !== 'pick') return;
		const { source, frame } = this.camera();
		const [w, h] = query.viewport;
		const [x, y] = query.cursor ?? [w / 2, h / 2];
		const right = ((2 * x) / w - 1) * (w / h);
		const up = 1 - (2 * y) / h;
		if (source.projection === 'perspective') {
			const t = Math.tan((source.fov * Math.PI) / 360);
			this.start = frame.position;
			this.way = unit(turn(frame.axes, [right * t, up * t, -1]));
		} else {
			this.start = add(frame.position, turn(frame.axes, [(right * source.height) / 2, (up * source.height) / 2, 0]));
			this.way = turn(frame.axes, FORWARD);
		}
		this.length = query.length ?? source.far ?? 1000;
	}

	camera(): { source: Project['scene']['cameras'][number]; frame: Frame } {
		return this.place.cameras.get(this.query.kind === 'pick' ? this.query.camera : '') as never;
	}

	setUpOverlap(): void {
		const { query, place } = this;
		if (query.kind !== 'overlap') return;
		this.start = this.anchor(query.at);
		const on = (query.turns ?? true) ? frameAt(place, query.at) : null;
		const axes: Axes = on?.axes ?? UNTURNED.axes;
		const middle = this.level(add(this.start, turn(axes, query.offset ?? [0, 0, 0])));
		const turned = compose(axes, axesOf(query.rotation ?? [0, 0, 0]));
		if ('like' in query.shape) {
			const { like, grow } = query.shape;
			const model = place.byId.get(like) as Thing;
			const frame: Frame = { position: middle, axes: turned, scale: model.frame.scale };
			this.mover = (model.source.shapes ?? [])
				.filter((s) => s.enabled !== false)
				.flatMap((s) => figureOf(s, frame, place.flat, 0, s.at, s.rotation).parts.map((p) => grown(p, grow ?? 0)));
		} else
			this.mover = figureOf(query.shape, { position: middle, axes: turned, scale: [1, 1, 1] }, place.flat, 0).parts;
	}
}
