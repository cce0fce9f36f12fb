/**
 * What a query must answer, written down from the contract a second time and in the order of its sentences: no trees, no
 * early exits, nothing shared with the product but the types. Slow on purpose; for tests only.
 */
import type { Project, Query, Rule } from '../../project/schema';
import type { Answer, Selected, Stage, Verdict } from '../../query/types';
import { type Figure, type Place, placedIn, placeOf, type Thing } from './scene';
import { add, type Convex, dot, gap, moved, norm, pointSet, sub, turn, unit, type V } from './sets';
import { type Contact, type Expected, Waiting } from './setting';
import { angle, holds, Touching } from './touching';

interface Contender {
	thing: Thing;
	contact: Contact;
	/** Blockers within the slack of the contact, in file order, and the nearest of them. */
	rivals: string[];
	nearestRival: string | null;
	/** Where sight goes to marks. */
	marks: { seen: number; of: number } | null;
}

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
		const [from, way, along] = asked.pieceAt(s.distance);
		const figure = this.place.byId.get(s.through ?? s.object)?.figures.find((f) => f.id === s.shape) as Figure;
		const point = pointSet([s.point]);
		return Math.max(
			gap(moved(asked.mover[0] as Convex, add(from, way, along)), point),
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
		return norm(sub(s.point, add(...asked.pieceAt(s.distance))));
	}
}

class Asked extends Touching {
	/** Start and direction of the piece in which a distance falls, and how far along it that is. */
	pieceAt(distance: number): [V, V, number] {
		const piece = this.pieces.findLast((p) => p.from <= distance + 1e-9);
		return piece ? [piece.start, piece.way, distance - piece.from] : [this.start, this.way, distance];
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

	/** How many marks are seen; which are not, and by whom the first of them is hidden. */
	seen(t: Thing, sighted: boolean): { seen: number; of: number; blocked: (string | null)[]; by: string | null } {
		const marks = t.source.marks ?? [{ id: null, at: t.source.focus ?? ([0, 0, 0] as V) }];
		const blocked: (string | null)[] = [];
		let by: string | null = null;
		for (const { id, at } of sighted ? marks : []) {
			const to = this.level(placedIn(t.frame, at));
			const d = norm(sub(to, this.sightFrom));
			if (d <= 1e-9) continue;
			const way = unit(sub(to, this.sightFrom));
			let first: { id: string; at: number } | null = null;
			for (const b of this.blockersFor(t)) {
				const hit = this.nearest(b, (f) => this.along(f, this.point, this.sightFrom, way, d));
				if (hit !== null && (first === null || hit < first.at - 1e-9)) first = { id: b.thing.source.id, at: hit };
			}
			if (first === null || this.within(d - this.slack, first.at)) continue;
			blocked.push(id);
			by ??= first.id;
		}
		return { seen: marks.length - blocked.length, of: marks.length, blocked, by };
	}

	sight(t: Thing, c: Contact): { fail: Omit<Verdict, 'object'> } | { rivals: string[]; nearestRival: string | null } {
		const list = this.blockersFor(t);
		const onPath = !this.volume && !c.assisted;
		let d = c.distance;
		let distances: (number | null)[];
		if (onPath && this.pieces.length > 0)
			distances = list.map((b) =>
				this.nearest(b, (f) => {
					const found = this.alongPieces(f, this.slack);
					const at = 'at' in found ? (this.pieces[found.piece] as { from: number }).from + found.at : null;
					return { at, skipped: found.skipped };
				}),
			);
		else if (onPath) {
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
			case 'seen':
				return c.marks ? -c.marks.seen / c.marks.of : 0;
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
				rule.slack ??
				{ distance: this.slack, aim: 0.1, cursor: 0.5, priority: 0, direct: 0, listed: 0, seen: 0 }[rule.rule];
			const best = Math.min(...left.map((c) => this.value(rule, c)));
			left = left.filter((c) => {
				const behind = this.value(rule, c) - best;
				const whole = ['priority', 'direct', 'listed', 'seen'].includes(rule.rule);
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
				const met = this.met(thing, filter.fail.stage);
				verdicts.set(thing, met === null ? filter.fail : { ...filter.fail, met });
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
			if (this.query.sight?.to === 'marks') {
				const { seen, of, blocked, by } = this.seen(thing, sighted);
				const least = this.query.sight.least ?? 1;
				const wanted = least === 'all' ? of : Math.min(of, least);
				if (by !== null && seen < wanted)
					verdicts.set(thing, { stage: 'sight', by, margin: wanted - seen, marks: blocked, seen, of });
				else contenders.push({ thing, contact, rivals: [], nearestRival: null, marks: { seen, of } });
				continue;
			}
			const seen = sighted ? this.sight(thing, contact) : { rivals: [], nearestRival: null };
			if ('fail' in seen) verdicts.set(thing, seen.fail);
			else contenders.push({ thing, contact, rivals: seen.rivals, nearestRival: seen.nearestRival, marks: null });
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
			verdicts.set(c.thing, { stage: 'choice', rule: 'stands-for', by: kept.thing.source.id, ...c.marks });
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
						...c.marks,
						...(Number.isFinite(d.margin) ? { margin: d.margin } : {}),
					});
			}
		};
		const report = (c: Contender): Selected => {
			verdicts.set(c.thing, { stage: 'selected', ...c.marks });
			const target = this.answersFor(c.thing);
			const outcome = this.query.outcomes?.find((o) => {
				if (o.tag !== undefined && !this.carries(target, o.tag)) return false;
				for (const c of o.when ?? []) {
					const whose =
						c.of === 'scene' ? this.place.states : ((c.of === 'asker' ? this.asker : target)?.source.states ?? {});
					if (!holds(whose[c.state], c)) return false;
				}
				return true;
			});
			const wording = outcome?.prompt === undefined ? (target.source.prompt ?? null) : outcome.prompt;
			const { source } = target;
			return {
				object: source.id,
				through: target === c.thing ? null : c.thing.source.id,
				...c.contact,
				...c.marks,
				action: outcome?.action === undefined ? (source.action ?? null) : outcome.action,
				prompt: wording === null ? null : wording.split('{name}').join(source.name ?? source.id),
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
				for (const c of group) verdicts.set(c.thing, { stage: 'tied', ...c.marks });
				lose(losers, dropped, ordered[0] as Contender);
				return finish('tie', ordered.map(id));
			}
			taken.push(...ordered);
			left = losers;
			if (taken.length >= wanted) lose(losers, dropped, ordered[0] as Contender);
		}
		const [first] = taken;
		if (take === 1 && first && first.rivals.length > 0) {
			verdicts.set(first.thing, { stage: 'tied', ...first.marks });
			taken.length = 0;
			return finish('tie', [id(first), ...first.rivals]);
		}
		return finish(taken.length > 0 ? 'selected' : 'none');
	}
}
