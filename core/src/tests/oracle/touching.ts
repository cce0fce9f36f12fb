/** Who is asked, and what the path or the volumes touch. */
import type { StateValue } from '../../project/schema';
import type { Stage, Verdict } from '../../query/types';
import type { Figure, Thing } from './scene';
import {
	add,
	back,
	type Convex,
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
	unit,
	type V,
} from './sets';
import { type Contact, type Piece, Setting } from './setting';

export class Touching extends Setting {
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

	/** Where a thing that a filter left out is touched with all its shapes; null where nowhere. */
	met(t: Thing, stage: Stage): number | null {
		if (!['layer', 'tags', 'side', 'state', 'role'].includes(stage)) return null;
		if (this.volume) return this.touchVolume(t.figures).contact?.distance ?? null;
		if (this.pieces.length > 0) return this.touchPieces(t.figures).contact?.distance ?? null;
		let least: number | null = null;
		for (const f of t.figures) {
			const { at, overlapped, left } = this.touchPath(f);
			if (at === null || (least !== null && at >= least - 1e-9)) continue;
			// Where it only grazes, how far that is cannot be told.
			least = this.contactOf(f, at, overlapped, left).distance;
		}
		return least;
	}

	touch(t: Thing, left: Figure[]): { contact: Contact | null; margin?: number; beyond?: number } {
		if (this.volume) return this.touchVolume(left);
		if (this.pieces.length > 0) {
			const { contact, margin, skipped } = this.touchPieces(left);
			if (skipped) this.inside.add(t.source.id);
			return contact ? { contact } : { contact: null, ...(margin === undefined ? {} : { margin }) };
		}
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

	/** First touch of a figure along what is thrown: in which piece, and how far along it. */
	alongPieces(
		f: Figure,
		past: number,
	):
		| { piece: number; at: number; skipped: boolean; overlapped: Convex[]; left: Convex[] }
		| { piece: -1; skipped: boolean } {
		const [mover] = this.mover as [Convex];
		const swept = mover !== this.point;
		let skipped = false;
		let gone: Convex[] = [];
		for (const [i, piece] of this.pieces.entries()) {
			const length = piece.length + (i === this.pieces.length - 1 ? past : 0);
			if (i === 0) {
				const found = this.along(f, mover, piece.start, piece.way, length);
				skipped = found.skipped;
				if (found.at !== null) return { ...found, piece: i, at: found.at };
				if (skipped) gone = swept && f.triangles.length > 0 ? f.parts.filter((p) => !found.left.includes(p)) : f.parts;
				continue;
			}
			const here = moved(mover, piece.start);
			if (gone.length > 0) {
				const g = Math.min(...gone.map((p) => gap(p, here)));
				if (g > 1e-7 && g < 1e-5) this.edge = 0;
				// A ray skips but the spot of a mesh it begins on.
				if (g > 1e-6) gone = [];
				else if (!swept && f.triangles.length > 0) {
					if (norm(sub(piece.start, (this.pieces[0] as Piece).start)) < 1e-5) this.edge = 0;
					gone = [];
				}
			}
			let at: number | null = null;
			const left = f.parts.filter((p) => !gone.includes(p));
			for (const part of left) {
				const t = f.triangles[f.parts.indexOf(part)];
				const g = gap(part, here);
				if (g > 1e-11 && g < 1e-5) this.edge = 0;
				const hit =
					t && !swept
						? lineMeets(t as [V, V, V], piece.start, piece.way, length)
						: g <= 1e-9
							? 0
							: firstTouch(here, piece.way, length, part);
				// Where two pieces meet, the normal is none.
				if (hit !== null && hit < 1e-6) this.edge = 0;
				if (hit !== null && (at === null || hit < at)) at = hit;
			}
			if (at !== null) return { piece: i, at, skipped, overlapped: [], left };
		}
		return { piece: -1, skipped };
	}

	touchPieces(figures: Figure[]): { contact: Contact | null; margin?: number; skipped: boolean } {
		const [mover] = this.mover as [Convex];
		let best: { piece: number; at: number; contact: () => Contact } | null = null;
		let any = false;
		let margin = Number.POSITIVE_INFINITY;
		const { start, way } = this;
		for (const f of figures) {
			const found = this.alongPieces(f, 0);
			any ||= found.skipped;
			if (found.piece < 0) {
				const miss = Math.min(
					...this.pieces.map((p) => {
						const path = drawn(moved(mover, p.start), add([0, 0, 0], p.way, p.length));
						return Math.min(...f.parts.map((part) => gap(part, path)));
					}),
				);
				if (!found.skipped && miss < 1e-5) this.edge = 0;
				margin = Math.min(margin, found.skipped ? 0 : miss);
				continue;
			}
			const { piece, at, overlapped, left } = found as Extract<typeof found, { at: number }>;
			if (best && (piece > best.piece || (piece === best.piece && at >= best.at - 1e-9))) continue;
			const { start: from, way: along, length, from: before, k } = this.pieces[piece] as Piece;
			best = {
				piece,
				at,
				contact: () => {
					this.start = from;
					this.way = along;
					const contact = this.contactOf(f, at, overlapped, left);
					this.start = start;
					this.way = way;
					return { ...contact, distance: before + at, time: (k + at / length) * this.step };
				},
			};
		}
		if (best) return { contact: best.contact(), skipped: any };
		return { contact: null, ...(Number.isFinite(margin) ? { margin } : {}), skipped: any };
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
}

export function holds(value: StateValue | undefined, c: { is?: StateValue; above?: number; below?: number }): boolean {
	const n = value === undefined ? 0 : Number(value);
	if (c.is !== undefined && !(value === undefined ? c.is === false || c.is === 0 : value === c.is)) return false;
	return (c.above === undefined || n > c.above) && (c.below === undefined || n < c.below);
}

export const angle = (a: V, b: V): number => (Math.atan2(norm(cross(a, b)), dot(a, b)) * 180) / Math.PI;

/** Where a line meets a triangle, edges and all; nowhere for a line in its plane. */
function lineMeets(t: [V, V, V], start: V, way: V, length: number): number | null {
	const n = unit(cross(sub(t[1], t[0]), sub(t[2], t[0])));
	const slope = dot(n, way);
	if (Math.abs(slope) < 1e-12) return null;
	const at = dot(n, sub(t[0], start)) / slope;
	if (at < 0 || at > length) return null;
	return gap(pointSet([...t]), pointSet([add(start, way, at)])) < 1e-9 ? at : null;
}
