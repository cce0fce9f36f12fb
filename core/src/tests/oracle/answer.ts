/**
 * What a query must answer, written down from the contract a second time and in the order of its sentences: no trees, no
 * early exits, nothing shared with the product but the types. Slow on purpose; for tests only.
 */
import type { Anchor, Direction, Project, Query, Rule, StateValue } from '../../project/schema';
import type { Answer, Selected, Stage, Verdict } from '../../query/types';
import {
	type Figure,
	type Frame,
	figureOf,
	frameAt,
	type Place,
	placedIn,
	placeOf,
	type Thing,
	UNTURNED,
} from './scene';
import {
	type Axes,
	add,
	axesOf,
	back,
	type Convex,
	compose,
	cross,
	dot,
	drawn,
	firstTouch,
	gap,
	gapOf,
	grown,
	moved,
	nearestOfBoth,
	nearestTo,
	norm,
	pointSet,
	sub,
	turn,
	unit,
	type V,
} from './sets';

/** An answer with how near the nearest comparison was to its limit: below about 1e-5 implementations may differ. */
export interface Expected {
	answer: Answer;
	edge: number;
}

interface Contact {
	shape: string | null;
	distance: number;
	point: V;
	normal: V | null;
	assisted: boolean;
	box: number | null;
}

interface Contender {
	thing: Thing;
	contact: Contact;
	/** Blockers within the slack of the contact, in file order, and the nearest of them. */
	rivals: string[];
	nearestRival: string | null;
}

class Waiting extends Error {
	constructor(readonly note: Answer['notes'][number]) {
		super(note.code);
	}
}

const FORWARD: V = [0, 0, -1];

export class Oracle {
	readonly place: Place;
	readonly #known = new Map<string, Expected>();

	constructor(project: Project, moment: string | null) {
		this.place = placeOf(project, moment);
	}

	answer(query: Query): Expected {
		let known = this.#known.get(query.id);
		if (!known) {
			known = new Asked(this, query).run();
			this.#known.set(query.id, known);
		}
		return known;
	}

	/** How far the point of a swept contact is from the swept shape where it stops, or from the shape it names, whichever is more, metres. */
	contactOff(query: Query, s: Selected): number {
		const asked = new Asked(this, query);
		asked.setUp();
		const figure = this.place.byId.get(s.through ?? s.object)?.figures.find((f) => f.id === s.shape) as Figure;
		const point = pointSet([s.point]);
		return Math.max(
			gap(moved(asked.mover[0] as Convex, add(asked.start, asked.way, s.distance)), point),
			Math.min(...figure.parts.map((p) => gap(p, point))),
		);
	}

	/** By how much a part of the shape that holds the contact stands out over the plane of the normal: 0 for a true normal, at edges and corners too. */
	normalOff(s: Selected): number {
		const figure = this.place.byId.get(s.through ?? s.object)?.figures.find((f) => f.id === s.shape) as Figure;
		const { normal } = s;
		if (!normal) return 0;
		const over = figure.parts
			.filter((p) => gap(p, pointSet([s.point])) < 1e-6)
			.map((p) => dot(sub(p.support(normal), s.point), normal) + p.radius);
		return Math.min(...over);
	}

	/** Metres from a swept contact's point to the middle of the swept shape. */
	fromMiddle(query: Query, s: Selected): number {
		const asked = new Asked(this, query);
		asked.setUp();
		return norm(sub(s.point, add(asked.start, asked.way, s.distance)));
	}
}

class Asked {
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
	readonly inside = new Set<string>();

	constructor(
		readonly oracle: Oracle,
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

	done(
		status: Answer['status'],
		selected: Selected[] = [],
		tied: string[] = [],
		verdicts: Verdict[] = [],
		more: Answer['notes'] = [],
	): Expected {
		const notes: Answer['notes'] = [...this.inside].map((object) => ({ code: 'starts-inside' as const, object }));
		notes.push(...more);
		return { answer: { query: this.query.id, status, selected, tied, notes, verdicts }, edge: this.edge };
	}

	run(): Expected {
		const { query } = this;
		if (query.enabled === false) return this.done('off', [], [], [], [{ code: 'disabled' }]);
		const failing: Answer['notes'] = [];
		for (const c of query.selects?.when ?? []) {
			if (c.of === 'target') continue;
			const states = c.of === 'scene' ? this.place.states : (this.asker?.source.states ?? {});
			if (!holds(states[c.state], c)) failing.push({ code: 'condition', of: c.of, state: c.state });
		}
		if (failing.length > 0) return this.done('off', [], [], [], failing);
		try {
			this.setUp();
		} catch (error) {
			if (error instanceof Waiting) return this.done('waiting', [], [], [], [error.note]);
			throw error;
		}
		return this.judge();
	}

	// ---- where the query is ----

	setUp(): void {
		const { query, place } = this;
		if (query.kind === 'ray' || query.kind === 'sweep') {
			this.start = this.anchor(query.from);
			const v = query.to ? sub(this.anchor(query.to), this.start) : this.direction(query.aim as Direction, this.start);
			this.way = this.needed(v);
			this.length = query.to ? norm(v) : (query.length ?? 1000);
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

	// ---- who is asked ----

	answersFor(t: Thing): Thing {
		return t.source.standsFor === undefined ? t : (this.place.byId.get(t.source.standsFor) as Thing);
	}

	present(t: Thing): boolean {
		return t.active && this.answersFor(t).active;
	}

	excluded(t: Thing): boolean {
		const { query } = this;
		const out = [
			query.asker,
			...(query.ignore ?? []),
			query.kind === 'overlap' && 'like' in query.shape ? query.shape.like : undefined,
		];
		return [t, this.answersFor(t)].some((x) => x.line.some((id) => out.includes(id)));
	}

	stance(t: Thing): 'hostile' | 'neutral' | 'friendly' {
		const from = this.asker?.source.side;
		const to = t.source.side;
		if (from === undefined || to === undefined) return 'neutral';
		const listed = this.place.project.scene.stances?.find((s) => s.from === from && s.to === to);
		return listed?.stance ?? (from === to ? 'friendly' : 'neutral');
	}

	carries(t: Thing, tag: string): boolean {
		const { tags } = this.place.project.scene;
		return (t.source.tags ?? []).some((own) => {
			for (let at: string | undefined = own; at !== undefined; at = tags.find((x) => x.id === at)?.under)
				if (at === tag) return true;
			return false;
		});
	}

	/** What a thing is: the verdict of the stages before touch, or the shapes that are left. */
	filtered(t: Thing): { fail: Omit<Verdict, 'object'> } | { left: Figure[]; may: boolean } {
		const s = this.query.selects ?? {};
		const target = this.answersFor(t);
		if (!this.present(t)) return { fail: { stage: 'inactive' } };
		if (this.excluded(t)) return { fail: { stage: 'excluded' } };
		const asked = (layer: string): boolean => s.layers === undefined || s.layers === 'all' || s.layers.includes(layer);
		const bare = t.figures.length === 0;
		const onLayer = t.figures.filter((f) => asked(f.layer));
		if (bare ? !asked(t.source.layer) : onLayer.length === 0)
			return {
				fail: { stage: 'layer', layers: bare ? [t.source.layer] : [...new Set(t.figures.map((f) => f.layer))] },
			};
		const { any = [], all = [], none = [] } = s.tags ?? {};
		const missing = [
			...all.filter((tag) => !this.carries(target, tag)),
			...(any.some((tag) => this.carries(target, tag)) ? [] : any),
		];
		const forbidden = none.filter((tag) => this.carries(target, tag));
		if (missing.length + forbidden.length > 0)
			return { fail: { stage: 'tags', missing: [...new Set(missing)], forbidden } };
		if (s.stances && !s.stances.includes(this.stance(target)))
			return { fail: { stage: 'side', stance: this.stance(target) } };
		for (const c of s.when ?? []) {
			const value = target.source.states?.[c.state];
			if (c.of === 'target' && !holds(value, c))
				return { fail: { stage: 'state', condition: c, value: value ?? null } };
		}
		const left = onLayer.filter((f) => s.roles === undefined || s.roles.includes(f.role));
		if (!bare && left.length === 0) return { fail: { stage: 'role', role: onLayer[0]?.role } };
		return { left, may: true };
	}

	// ---- touch ----

	/** First touch of a figure along a straight way; `skipped` where some of it was left out for lying at the start. */
	along(
		f: Figure,
		mover: Convex,
		start: V,
		way: V,
		length: number,
	): { at: number | null; skipped: boolean; overlapped: Convex[]; left: Convex[] } {
		const here = moved(mover, start);
		const count = this.query.startInside === 'count';
		const swept = mover !== this.point;
		const near = f.parts.map((p) => {
			const g = gap(p, here);
			if (g > 1e-7 && g < 1e-5) this.edge = 0;
			return g <= 1e-6;
		});
		const overlapped = f.parts.filter((_, i) => near[i]);
		if (count && overlapped.length > 0) return { at: 0, skipped: false, overlapped, left: [] };
		let skipped = overlapped.length > 0;
		let at: number | null = null;
		const left = f.parts.filter((_, i) => !near[i] && !(swept && this.levelWithStart(f, near, f.triangles[i] ?? [])));
		f.parts.forEach((part, i) => {
			const t = f.triangles[i];
			let hit: number | null;
			if (!t) hit = near[i] ? null : firstTouch(here, way, length, part);
			else if (swept) hit = near[i] || this.levelWithStart(f, near, t) ? null : firstTouch(here, way, length, part);
			else {
				hit = lineMeets(t as [V, V, V], start, way, length);
				if (hit !== null && hit <= 1e-6) hit = null;
			}
			if (hit !== null && (at === null || hit < at)) at = hit;
			if (t && swept && this.levelWithStart(f, near, t)) skipped = true;
		});
		return { at, skipped, overlapped: [], left };
	}

	readonly point: Convex = this.mover[0] as Convex;

	levelWithStart(f: Figure, near: boolean[], t: V[]): boolean {
		return f.triangles.some((other, i) => {
			if (!near[i]) return false;
			const [a, b, c] = other as [V, V, V];
			const n = unit(cross(sub(b, a), sub(c, a)));
			return t.every((p) => Math.abs(dot(n, sub(p, a))) <= 1e-6);
		});
	}

	touch(t: Thing, left: Figure[]): { contact: Contact | null; margin?: number; beyond?: number } {
		if (this.volume) return this.touchVolume(left);
		let contact: Contact | null = null;
		let margin = Number.POSITIVE_INFINITY;
		for (const f of left) {
			const { at, skipped, overlapped, left: parts, miss } = this.touchPath(f);
			if (skipped) this.inside.add(t.source.id);
			margin = Math.min(margin, skipped ? 0 : miss);
			if (at === null || (contact && at >= contact.distance - 1e-9)) continue;
			contact = this.contactOf(f, at, overlapped, parts);
		}
		if (contact) return { contact };
		const assisted = this.assisted(t);
		if (assisted) return { contact: assisted };
		const beyond = Math.min(...left.map((f) => this.beyond(f)));
		return {
			contact: null,
			...(Number.isFinite(margin) ? { margin } : {}),
			...(Number.isFinite(beyond) ? { beyond } : {}),
		};
	}

	/** How far past its end the path would first touch, were it endless; farther than any scene here is as good as that. */
	beyond(f: Figure): number {
		const endless = 120;
		if (this.flatPick) {
			const depth = this.start[2] - f.z;
			const aside = gap(f.parts[0] as Convex, pointSet([this.level(this.start)]));
			return aside <= 1e-9 && depth > 1e-6 ? depth - this.length : Number.POSITIVE_INFINITY;
		}
		const [mover] = this.mover as [Convex];
		const found = this.along(f, mover, this.start, this.way, endless);
		if (found.at === null) {
			const path = drawn(moved(mover, this.start), add([0, 0, 0], this.way, endless));
			if (!found.skipped && Math.min(...f.parts.map((p) => gap(p, path))) < 1e-5) this.edge = 0;
			return Number.POSITIVE_INFINITY;
		}
		// Where it only grazes, how far that is cannot be told.
		this.contactOf(f, found.at, found.overlapped, found.left);
		return found.at - this.length;
	}

	touchPath(f: Figure): { at: number | null; skipped: boolean; overlapped: Convex[]; left: Convex[]; miss: number } {
		const [mover] = this.mover as [Convex];
		if (!this.flatPick) {
			const found = this.along(f, mover, this.start, this.way, this.length);
			const path = drawn(moved(mover, this.start), add([0, 0, 0], this.way, this.length));
			const miss = found.at === null ? Math.min(...f.parts.map((p) => gap(p, path))) : 0;
			if (found.at === null && !found.skipped && miss < 1e-5) this.edge = 0;
			return { ...found, miss };
		}
		const cursor = pointSet([this.level(this.start)]);
		const aside = gap(f.parts[0] as Convex, cursor);
		const depth = this.start[2] - f.z;
		const beyond = Math.max(0, -depth, depth - this.length);
		if (aside > 1e-12 && aside < 1e-5) this.edge = 0;
		if (aside > 1e-9) return { at: null, skipped: false, overlapped: [], left: [], miss: Math.max(aside, beyond) };
		if (Math.abs(depth) <= 1e-6) {
			const count = this.query.startInside === 'count';
			return { at: count ? 0 : null, skipped: !count, overlapped: [], left: [], miss: 0 };
		}
		return { at: beyond === 0 ? depth : null, skipped: false, overlapped: [], left: [], miss: beyond };
	}

	contactOf(f: Figure, at: number, overlapped: Convex[], left: Convex[]): Contact {
		const end = add(this.start, this.way, at);
		const made = (point: V, normal: V): Contact => ({
			shape: f.id,
			distance: at,
			point,
			normal,
			assisted: false,
			box: null,
		});
		const against: V = add([0, 0, 0], this.way, -1);
		if (this.flatPick) return made([this.start[0], this.start[1], f.z], [0, 0, 1]);
		const sweeping = this.query.kind === 'sweep';
		if (at === 0 && overlapped.length > 0) {
			if (!sweeping) return made(this.start, against);
			const points = overlapped.map((p) => nearestTo(p, this.start));
			return made(
				points.reduce((a, b) => (norm(sub(b, this.start)) < norm(sub(a, this.start)) - 1e-12 ? b : a)),
				against,
			);
		}
		const [mover] = this.mover as [Convex];
		// Just before the touch the nearest way between the two is the normal.
		const before = add(this.start, this.way, at - Math.min(1e-5, at / 2));
		const there = moved(mover, before);
		const parts = sweeping ? left : f.parts;
		let best = parts[0] as Convex;
		for (const p of parts) if (gap(p, there) < gap(best, there)) best = p;
		const normal = gapOf(there, best).from;
		// Where it only grazes, how far it came is known to the root of rounding.
		if (Math.abs(dot(normal, this.way)) < 1e-3) this.edge = 0;
		if (!sweeping) return made(end, normal);
		const touching = parts.filter((p) => gap(p, moved(mover, end)) <= 1e-8);
		const points = touching.map((p) => nearestOfBoth(grown(moved(mover, end), 1e-8), grown(p, 1e-8), end));
		return made(
			points.reduce((a, b) => (norm(sub(b, end)) < norm(sub(a, end)) ? b : a), points[0] ?? end),
			normal,
		);
	}

	assisted(t: Thing): Contact | null {
		const { query } = this;
		if ((query.kind !== 'ray' && query.kind !== 'pick') || !query.assist) return null;
		const { by, within } = query.assist;
		const focus = this.flatPick ? t.focus : this.focusOf(t);
		const to = sub(focus, this.start);
		const along = dot(to, this.way);
		const from0 = this.within(0, along);
		const toEnd = this.within(along, this.length);
		if (!from0 || !toEnd) return null;
		const off =
			by === 'distance' ? norm(add(to, this.way, -along)) : by === 'angle' ? angle(to, this.way) : this.pixels(t);
		if (!this.within(off, within)) return null;
		return {
			shape: null,
			distance: this.flatPick ? along : norm(to),
			point: focus,
			normal: null,
			assisted: true,
			box: null,
		};
	}

	/** Pixels between the cursor and the projected focus; infinite behind the camera. */
	pixels(t: Thing): number {
		const { query } = this;
		if (query.kind !== 'pick') return 0;
		const { source, frame } = this.camera();
		const [w, h] = query.viewport;
		const [x, y] = query.cursor ?? [w / 2, h / 2];
		const local = back(frame.axes, sub(t.focus, frame.position));
		const depth = -local[2];
		if (depth <= 0) return Number.POSITIVE_INFINITY;
		const half =
			source.projection === 'perspective' ? Math.tan((source.fov * Math.PI) / 360) * depth : source.height / 2;
		const px = (local[0] / half) * (h / 2) + w / 2;
		const py = h / 2 - (local[1] / half) * (h / 2);
		return Math.hypot(px - x, py - y);
	}

	touchVolume(left: Figure[]): { contact: Contact | null; margin?: number } {
		let contact: Contact | null = null;
		let margin = Number.POSITIVE_INFINITY;
		let box: number | null = null;
		for (const f of left) {
			const gaps = this.mover.map((v) => Math.min(...f.parts.map((p) => gap(p, v))));
			const least = Math.min(...gaps);
			margin = Math.min(margin, least);
			if (least > 1e-11 && least < 1e-5) this.edge = 0;
			if (least > 1e-9) continue;
			gaps.forEach((g, i) => {
				if (g > 1e-9 || this.query.kind !== 'hitbox') return;
				if (
					box === null ||
					(this.boxes[i]?.from ?? 0) < (this.boxes[box]?.from ?? 0) ||
					(this.boxes[i]?.from === this.boxes[box]?.from && i < box)
				)
					box = i;
			});
			for (const p of f.parts) {
				const point = nearestTo(p, this.start);
				const distance = norm(sub(point, this.start));
				if (!contact || distance < contact.distance - 1e-9)
					contact = { shape: f.id, distance, point, normal: null, assisted: false, box: null };
			}
		}
		if (contact) return { contact: { ...contact, box } };
		return { contact: null, ...(Number.isFinite(margin) ? { margin } : {}) };
	}

	// ---- limits ----

	/** Distance as `range` measures it. */
	measured(t: Thing, c: Contact, to: 'contact' | 'focus'): number {
		const { range } = this.query;
		if (to === 'contact' && !range?.from && !range?.flat) return c.distance;
		if (to === 'contact' && this.query.kind === 'sweep') this.edge = 0;
		const v = sub(to === 'focus' ? this.focusOf(t) : c.point, this.rangeFrom);
		if (this.flatPick || this.place.flat) return Math.hypot(v[0], v[1]);
		return range?.flat ? Math.hypot(v[0], v[2]) : norm(v);
	}

	viewAngle(t: Thing): number {
		const v = sub(this.focusOf(t), this.apex);
		if (!this.query.view?.flat) return norm(v) <= 1e-9 ? 0 : angle(v, this.about);
		const level: V = [v[0], 0, v[2]];
		return norm(level) <= 1e-9 ? 0 : angle(level, this.about);
	}

	approachAngle(t: Thing): number {
		const target = this.answersFor(t);
		const asking = this.asker ? this.asker.frame.position : this.start;
		const level = (v: V): V => (this.place.flat ? [v[0], v[1], 0] : [v[0], 0, v[2]]);
		const wish = level(turn(target.frame.axes, target.source.approach?.from ?? [0, 0, 0]));
		const line = level(sub(asking, target.focus));
		return norm(wish) <= 1e-9 || norm(line) <= 1e-9 ? 0 : angle(wish, line);
	}

	limits(t: Thing, c: Contact): Omit<Verdict, 'object'> | null {
		const { range, view, approach } = this.query;
		if (range) {
			const d = this.measured(t, c, range.to ?? 'contact');
			const near = range.min === undefined || this.within(range.min, d);
			const far = range.max === undefined || this.within(d, range.max);
			if (!near || !far) return { stage: 'range', margin: near ? d - (range.max ?? 0) : (range.min ?? 0) - d };
		}
		if (view) {
			const a = this.viewAngle(t);
			if (!this.within(a, view.within)) return { stage: 'view', margin: a - view.within };
		}
		const wish = this.answersFor(t).source.approach;
		if (wish && approach !== 'ignore') {
			const a = this.approachAngle(t);
			if (!this.within(a, wish.within)) return { stage: 'approach', margin: a - wish.within };
		}
		return null;
	}

	// ---- sight ----

	blockersFor(t: Thing | null): { thing: Thing; figures: Figure[] }[] {
		const { blockers = [], sensors = false } = this.query.sight ?? {};
		return this.place.things
			.filter((b) => this.present(b) && !this.excluded(b) && (t === null || this.answersFor(b) !== this.answersFor(t)))
			.map((thing) => ({
				thing,
				figures: thing.figures.filter(
					(f) => (blockers === 'all' || blockers.includes(f.layer)) && (f.role === 'solid' || sensors),
				),
			}))
			.filter((b) => b.figures.length > 0);
	}

	sight(t: Thing, c: Contact): { fail: Omit<Verdict, 'object'> } | { rivals: string[]; nearestRival: string | null } {
		const list = this.blockersFor(t);
		const onPath = !this.volume && !c.assisted;
		let d = c.distance;
		let distances: (number | null)[];
		if (onPath) {
			const length = this.length + this.slack;
			distances = list.map((b) =>
				this.nearest(b, (f) =>
					this.flatPick
						? this.straightDown(f, this.start, length)
						: this.along(f, this.mover[0] as Convex, this.start, this.way, length),
				),
			);
		} else if (this.flatPick) {
			d = this.start[2] - t.focus[2];
			distances = list.map((b) =>
				this.nearest(b, (f) => this.straightDown(f, [t.focus[0], t.focus[1], this.start[2]], d)),
			);
		} else {
			const from = this.volume ? this.sightFrom : this.start;
			const to = this.volume && this.query.sight?.to === 'contact' ? c.point : this.focusOf(t);
			d = norm(sub(to, from));
			if (d <= 1e-9) return { rivals: [], nearestRival: null };
			const way = unit(sub(to, from));
			distances = list.map((b) => this.nearest(b, (f) => this.along(f, this.point, from, way, d)));
		}
		let by: string | null = null;
		let b = Number.POSITIVE_INFINITY;
		const rivals: string[] = [];
		let nearestRival: string | null = null;
		let first = Number.POSITIVE_INFINITY;
		distances.forEach((at, i) => {
			if (at === null) return;
			const id = list[i]?.thing.source.id as string;
			if (at < b - 1e-9) {
				b = at;
				by = id;
			}
			if (!onPath || !this.within(Math.abs(at - d), this.slack)) return;
			rivals.push(id);
			if (at < first - 1e-9) {
				first = at;
				nearestRival = id;
			}
		});
		if (by !== null && !this.within(d - this.slack, b)) return { fail: { stage: 'sight', by, margin: d - b } };
		return { rivals, nearestRival };
	}

	/** Whatever can block and holds the start is named, whether or not anything is left to be blocked. */
	noteStarts(): void {
		for (const b of this.blockersFor(null))
			this.nearest(b, (f) =>
				this.flatPick
					? this.straightDown(f, this.start, 0)
					: this.along(f, this.mover[0] as Convex, this.start, this.way, 0),
			);
	}

	nearest(
		b: { thing: Thing; figures: Figure[] },
		of: (f: Figure) => { at: number | null; skipped: boolean },
	): number | null {
		let best: number | null = null;
		for (const f of b.figures) {
			const { at, skipped } = of(f);
			if (skipped) this.inside.add(b.thing.source.id);
			if (at !== null && (best === null || at < best)) best = at;
		}
		return best;
	}

	straightDown(f: Figure, from: V, length: number): { at: number | null; skipped: boolean } {
		const aside = gap(f.parts[0] as Convex, pointSet([[from[0], from[1], 0]]));
		if (aside > 1e-12 && aside < 1e-5) this.edge = 0;
		const depth = from[2] - f.z;
		if (aside > 1e-9) return { at: null, skipped: false };
		if (Math.abs(depth) <= 1e-6)
			return this.query.startInside === 'count' ? { at: 0, skipped: false } : { at: null, skipped: true };
		return { at: depth >= 0 && depth <= length ? depth : null, skipped: false };
	}

	// ---- choice ----

	rules(): Rule[] {
		const { query } = this;
		if (query.choose?.by) return query.choose.by;
		const assist = (query.kind === 'ray' || query.kind === 'pick') && query.assist;
		return assist ? [{ rule: 'direct' }, { rule: 'distance' }] : [{ rule: 'distance' }];
	}

	/** Smaller is better. */
	value(rule: Rule, c: Contender): number {
		switch (rule.rule) {
			case 'distance':
				if (this.flatPick && (rule.to ?? 'contact') === 'contact') return c.contact.distance;
				return this.measured(c.thing, c.contact, rule.to ?? 'contact');
			case 'aim':
				return this.viewAngle(c.thing);
			case 'cursor':
				return this.pixels(c.thing);
			case 'priority':
				return -(this.answersFor(c.thing).source.priority ?? 0);
			case 'direct':
				return c.contact.assisted ? 1 : 0;
			default:
				return c.thing.index;
		}
	}

	/** Those left after every rule, and who was dropped by which. */
	round(list: Contender[]): { left: Contender[]; dropped: Map<Contender, { rule: Rule['rule']; margin: number }> } {
		const dropped = new Map<Contender, { rule: Rule['rule']; margin: number }>();
		let left = list;
		for (const rule of this.rules()) {
			const slack =
				rule.slack ?? { distance: this.slack, aim: 0.1, cursor: 0.5, priority: 0, direct: 0, listed: 0 }[rule.rule];
			const best = Math.min(...left.map((c) => this.value(rule, c)));
			left = left.filter((c) => {
				const behind = this.value(rule, c) - best;
				const whole = rule.rule === 'priority' || rule.rule === 'direct' || rule.rule === 'listed';
				if (Number.isNaN(behind) || (whole ? behind <= slack : behind === 0 || this.within(behind, slack))) return true;
				dropped.set(c, { rule: rule.rule, margin: behind });
				return false;
			});
			if (left.length === 1) break;
		}
		return { left, dropped };
	}

	judge(): Expected {
		const verdicts = new Map<Thing, Omit<Verdict, 'object'>>();
		const contenders: Contender[] = [];
		const sighted = this.query.sight?.blockers !== undefined && this.query.sight.blockers.length > 0;
		if (sighted && !this.volume) this.noteStarts();
		for (const thing of this.place.things) {
			const filter = this.filtered(thing);
			if ('fail' in filter) {
				verdicts.set(thing, filter.fail);
				continue;
			}
			const { contact, margin, beyond } = this.touch(thing, filter.left);
			if (!contact) {
				verdicts.set(thing, {
					stage: 'touch',
					...(margin === undefined ? {} : { margin }),
					...(beyond === undefined ? {} : { beyond }),
				});
				continue;
			}
			const fail = this.limits(thing, contact);
			if (fail) {
				verdicts.set(thing, fail);
				continue;
			}
			const seen = sighted ? this.sight(thing, contact) : { rivals: [], nearestRival: null };
			if ('fail' in seen) verdicts.set(thing, seen.fail);
			else contenders.push({ thing, contact, rivals: seen.rivals, nearestRival: seen.nearestRival });
		}
		return this.choose(contenders, verdicts);
	}

	choose(all: Contender[], verdicts: Map<Thing, Omit<Verdict, 'object'>>): Expected {
		const id = (c: Contender): string => this.answersFor(c.thing).source.id;
		let left = all.filter((c) => {
			const group = all.filter((x) => id(x) === id(c));
			if (group.length === 1) return true;
			const kept = this.round(group).left[0] as Contender;
			if (kept === c) return true;
			verdicts.set(c.thing, { stage: 'choice', rule: 'stands-for', by: kept.thing.source.id });
			return false;
		});
		const take = this.query.choose?.take ?? (this.query.kind === 'hitbox' ? 'all' : 1);
		const wanted = take === 'all' ? Number.POSITIVE_INFINITY : take;
		const taken: Contender[] = [];
		const byFile = (a: Contender, b: Contender) => this.answersFor(a.thing).index - this.answersFor(b.thing).index;
		const lose = (losers: Contender[], dropped: ReturnType<Asked['round']>['dropped'], to: Contender) => {
			for (const c of losers) {
				const d = dropped.get(c);
				if (d)
					verdicts.set(c.thing, {
						stage: 'choice',
						rule: d.rule,
						by: id(to),
						...(Number.isFinite(d.margin) ? { margin: d.margin } : {}),
					});
			}
		};
		const report = (c: Contender): Selected => {
			verdicts.set(c.thing, { stage: 'selected' });
			const target = this.answersFor(c.thing);
			const outcome = this.query.outcomes?.find((o) => this.carries(target, o.tag));
			const { source } = target;
			return {
				object: source.id,
				through: target === c.thing ? null : c.thing.source.id,
				...c.contact,
				action: outcome?.action === undefined ? (source.action ?? null) : outcome.action,
				prompt: outcome?.prompt === undefined ? (source.prompt ?? null) : outcome.prompt,
			};
		};
		const finish = (status: Answer['status'], tied: string[] = []): Expected =>
			this.done(
				status,
				taken.map(report),
				tied,
				this.place.things.map((t) => ({ object: t.source.id, ...(verdicts.get(t) as { stage: Stage }) })),
				taken.flatMap((c) =>
					c.nearestRival === null ? [] : [{ code: 'contested' as const, object: id(c), by: c.nearestRival }],
				),
			);
		while (left.length > 0 && taken.length < wanted) {
			const { left: group, dropped } = this.round(left);
			const ordered = [...group].sort(byFile);
			const losers = left.filter((c) => !group.includes(c));
			if (taken.length + group.length > wanted) {
				for (const c of group) verdicts.set(c.thing, { stage: 'tied' });
				lose(losers, dropped, ordered[0] as Contender);
				return finish('tie', ordered.map(id));
			}
			taken.push(...ordered);
			left = losers;
			if (taken.length >= wanted) lose(losers, dropped, ordered[0] as Contender);
		}
		const [first] = taken;
		if (take === 1 && first && first.rivals.length > 0) {
			verdicts.set(first.thing, { stage: 'tied' });
			taken.length = 0;
			return finish('tie', [id(first), ...first.rivals]);
		}
		return finish(taken.length > 0 ? 'selected' : 'none');
	}
}

function holds(value: StateValue | undefined, c: { is?: StateValue; above?: number; below?: number }): boolean {
	const n = value === undefined ? 0 : Number(value);
	if (c.is !== undefined && !(value === undefined ? c.is === false || c.is === 0 : value === c.is)) return false;
	return (c.above === undefined || n > c.above) && (c.below === undefined || n < c.below);
}

const angle = (a: V, b: V): number => (Math.atan2(norm(cross(a, b)), dot(a, b)) * 180) / Math.PI;

/** Where a line meets a triangle, edges and all; nowhere for a line in its plane. */
function lineMeets(t: [V, V, V], start: V, way: V, length: number): number | null {
	const n = unit(cross(sub(t[1], t[0]), sub(t[2], t[0])));
	const slope = dot(n, way);
	if (Math.abs(slope) < 1e-12) return null;
	const at = dot(n, sub(t[0], start)) / slope;
	if (at < 0 || at > length) return null;
	return gap(pointSet([...t]), pointSet([add(start, way, at)])) < 1e-9 ? at : null;
}
