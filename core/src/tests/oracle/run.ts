/**
 * What a run-through must do, written down from the contract (§12) a second time: at every instant a whole project is made whose scene
 * is the scene at that time, and every query is answered of it in full. Slow on purpose; for tests only.
 */

import { eulerOf } from '../../geometry/matrix';
import type { Condition, Effect, Overlay, Project, Query, Run, SceneObject, StateValue } from '../../project/schema';
import { Answerer } from '../../query/answer';
import type { Answer } from '../../query/types';
import { buildWorld } from '../../world/world';
import { holds as conditionHolds } from './touching';

type Plain = Record<string, unknown>;
const NEAR = 1e-9;

/** Everything effects have set, in the order it was set: later lines win. */
type Set_ = { of: string | null; overlay: Overlay };

const withOverlay = (object: SceneObject, overlay: Plain): SceneObject => {
	const out = JSON.parse(JSON.stringify(object)) as Plain;
	for (const [field, value] of Object.entries(overlay)) {
		if (field === 't' || field === 'cursor' || field === 'enabled') continue;
		if (field === 'states') out.states = { ...(out.states as Plain), ...(value as Plain) };
		else if (field === 'shapes')
			for (const [id, { enabled }] of Object.entries(value as Record<string, { enabled: boolean }>)) {
				const shape = (out.shapes as Plain[] | undefined)?.find((s) => s.id === id);
				if (shape) shape.enabled = enabled;
			}
		else if (value === null) delete out[field];
		else out[field] = value;
	}
	return out as unknown as SceneObject;
};

/** The value of one field at a time by the keys that give it, or undefined before the first. */
function valueAt(keys: readonly Plain[], field: string, t: number): unknown {
	const giving = keys.filter((key) => key[field] !== undefined);
	let now: Plain | undefined;
	let next: Plain | undefined;
	for (const key of giving)
		if ((key.t as number) <= t + NEAR) now = key;
		else next ??= key;
	if (!now) return undefined;
	if (!next || !['position', 'cursor', 'rotation'].includes(field)) return now[field];
	if (field !== 'cursor' && next.parent !== undefined) return now[field];
	const u = Math.max(0, (t - (now.t as number)) / ((next.t as number) - (now.t as number)));
	if (u === 0) return now[field];
	return (now[field] as number[]).map((a, i) => {
		const b = (next as Record<string, number[]>)[field]?.[i];
		if (field !== 'rotation') return a + u * (b - a);
		let d = b - a;
		while (d > 180) d -= 360;
		while (d <= -180) d += 360;
		if (Math.abs(d + 180) < NEAR) d = 180;
		return a + u * d;
	});
}

/** A key of several names: each by itself. */
function namedAt(keys: readonly Plain[], field: 'states' | 'shapes', t: number): Plain {
	const out: Plain = {};
	for (const key of keys)
		if ((key.t as number) <= t + NEAR) Object.assign(out, (key[field] as Plain | undefined) ?? {});
	return out;
}

function trackAt(keys: readonly Plain[], t: number): Plain {
	const fields = new Set(keys.flatMap((key) => Object.keys(key)));
	const out: Plain = {};
	for (const field of fields) {
		if (field === 't') continue;
		if (field === 'states' || field === 'shapes') {
			const named = namedAt(keys, field, t);
			if (Object.keys(named).length > 0) out[field] = named;
			continue;
		}
		const value = valueAt(keys, field, t);
		if (value !== undefined) out[field] = value;
	}
	return out;
}

/** The project whose scene, as laid out, is that of the run at a time. */
function projectAtTime(project: Project, run: Run, t: number, set: readonly Set_[]): Project {
	const next = JSON.parse(JSON.stringify(project)) as Project;
	const moments: string[] = [];
	for (let id = run.moment; id !== undefined; ) {
		moments.unshift(id);
		id = project.moments?.find((m) => m.id === id)?.on;
	}
	const laid = moments.map((id) => project.moments?.find((m) => m.id === id));
	next.scene.objects = next.scene.objects.map((object) => {
		let now = object;
		for (const m of laid) now = withOverlay(now, (m?.objects?.[object.id] as Plain | undefined) ?? {});
		const track = run.tracks?.find((tr) => tr.object === object.id);
		if (track) now = withOverlay(now, trackAt(track.keys as unknown as Plain[], t));
		for (const s of set) if (s.of === object.id) now = withOverlay(now, s.overlay as Plain);
		return now;
	});
	for (const camera of next.scene.cameras) {
		for (const m of laid) Object.assign(camera, m?.cameras?.[camera.id] ?? {});
		const track = run.tracks?.find((tr) => tr.camera === camera.id);
		if (track) Object.assign(camera, trackAt(track.keys as unknown as Plain[], t));
	}
	for (const query of next.queries) {
		for (const m of laid) Object.assign(query, m?.queries?.[query.id] ?? {});
		const track = run.tracks?.find((tr) => tr.query === query.id);
		if (track) Object.assign(query, trackAt(track.keys as unknown as Plain[], t));
	}
	let states: Record<string, StateValue> = { ...next.scene.states };
	for (const m of laid) states = { ...states, ...m?.states };
	const ofScene = run.tracks?.find((tr) => tr.scene);
	if (ofScene) states = { ...states, ...(trackAt(ofScene.keys as unknown as Plain[], t).states as typeof states) };
	for (const s of set) if (s.of === null) states = { ...states, ...s.overlay.states };
	next.scene.states = states;
	delete next.moments;
	delete next.checks;
	delete next.runs;
	return next;
}

const TOUCHED = ['range', 'view', 'approach', 'sight', 'choice', 'tied', 'selected'];
const CONTENDS = ['choice', 'tied', 'selected'];

interface Entry {
	touched: string[];
	contenders: string[];
	selected: string[];
	tied: string[];
	through: (string | null)[];
	slot: string | null;
	/** Choose events. */
	changes: { k: number; t: number; held: boolean }[];
	tiedSteps: number;
	unlike: number;
}

const asked = (at: Project, query: Query): Answer => new Answerer(buildWorld(at)).explain(query);

const numberOf = (v: StateValue | undefined): number => (v === undefined ? 0 : Number(v));

/** @returns what `frelk run --json` is to print of the run */
export function runOf(project: Project, run: Run): unknown {
	const n = run.between ?? 8;
	const last = Math.floor(run.duration / run.step + 1e-9);
	const events: Plain[] = [];
	const missed: { t: number; order: number; place: number; event: Plain }[] = [];
	let set: Set_[] = [];
	const entries = (run.watch ?? []).map(
		(): Entry => ({
			touched: [],
			contenders: [],
			selected: [],
			tied: [],
			through: [],
			slot: null,
			changes: [],
			tiedSteps: 0,
			unlike: 0,
		}),
	);
	const swings = (run.swings ?? []).map(() => ({
		hit: new Set<string>(),
		between: new Map<string, { after: number; t: number }>(),
		hits: 0,
		undecided: 0,
	}));
	const pressed = new Set<number>();
	const placeOf = (id: string) => project.scene.objects.findIndex((o) => o.id === id);
	const touchedAt: string[][][] = [];
	const seenBetween: Map<string, number>[][] = [];

	for (let k = 0; k <= last; k++) {
		const t = k * run.step;
		const at = projectAtTime(project, run, t, set);
		const target = (id: string) => at.scene.objects.find((o) => o.id === id)?.standsFor ?? id;
		touchedAt[k] = [];
		(run.watch ?? []).forEach((entry, e) => {
			const watch = entry.id ?? entry.query;
			const state = entries[e] as Entry;
			const query = at.queries.find((q) => q.id === entry.query) as Query;
			const answer = asked(at, query);
			const touched = answer.verdicts.filter((v) => TOUCHED.includes(v.stage)).map((v) => v.object);
			const contenders = answer.verdicts.filter((v) => CONTENDS.includes(v.stage)).map((v) => v.object);
			(touchedAt[k] as string[][])[e] = touched;
			const say = (kind: string, ids: string[]) => {
				for (const object of ids) events.push({ k, t, kind, watch, object });
				return ids;
			};
			say(
				'leave',
				state.touched.filter((id) => !touched.includes(id)),
			);
			say(
				'enter',
				touched.filter((id) => !state.touched.includes(id)),
			);
			const lost = say(
				'lose',
				state.contenders.filter((id) => !contenders.includes(id)),
			);
			const gained = say(
				'gain',
				contenders.filter((id) => !state.contenders.includes(id)),
			);
			let selected = answer.selected.map((s) => s.object);
			let tied = [...answer.tied];
			let through = answer.selected.map((s) => s.through);
			const own = selected;
			if (entry.keeps === 'one') {
				for (const id of lost) if (entry.forgets === 'any' || state.slot === id) state.slot = null;
				for (const id of gained) state.slot = id;
				selected = state.slot === null ? [] : [target(state.slot)];
				through = state.slot === null ? [] : [target(state.slot) === state.slot ? null : state.slot];
				tied = [];
			} else if (entry.stick && state.selected.length === 1 && !own.includes(state.selected[0] as string)) {
				const c = state.selected[0] as string;
				for (const v of answer.verdicts) {
					if (target(v.object) !== c || v.rule === 'stands-for') continue;
					const limit = v.rule === undefined ? undefined : entry.stick[v.rule as 'distance'];
					if (
						v.stage === 'tied' ||
						(v.stage === 'choice' && limit !== undefined && v.margin !== undefined && v.margin <= limit)
					) {
						selected = [c];
						through = [v.object === c ? null : v.object];
						tied = [];
						break;
					}
				}
			}
			if (JSON.stringify([selected, tied]) !== JSON.stringify([state.selected, state.tied])) {
				const i = state.selected.findIndex((id) => !selected.includes(id));
				let instead: Plain | null = null;
				if (i >= 0 && answer.verdicts.length > 0) {
					const by = state.through[i] ?? null;
					const v = answer.verdicts.find((x) => x.object === (by ?? state.selected[i]));
					if (v)
						instead = {
							object: state.selected[i],
							through: by,
							stage: v.stage,
							by: v.by ?? null,
							margin: v.margin ?? null,
						};
				}
				events.push({ k, t, kind: 'choose', watch, selected, tied, instead });
				state.changes.push({ k, t, held: selected.length > 0 });
			}
			if (tied.length > 0) state.tiedSteps++;
			if (JSON.stringify(selected) !== JSON.stringify(own)) state.unlike++;
			Object.assign(state, { touched, contenders, selected, tied, through });
		});
		(run.swings ?? []).forEach((swing, index) => {
			const state = swings[index] as (typeof swings)[number];
			const query = at.queries.find((q) => q.id === swing.query);
			if (query?.kind !== 'hitbox') return;
			const open = query.boxes.flatMap((b, i) =>
				swing.at + (b.from ?? 0) <= t + NEAR && t <= swing.at + (b.until ?? Infinity) + NEAR ? [i] : [],
			);
			if (open.length === 0) return;
			// What was hit is left out of the contenders but still blocks: asked of what is left when it is taken away from the choice.
			const probe = { ...query, boxes: open.map((i) => query.boxes[i] as (typeof query.boxes)[number]) };
			const world = buildWorld(at);
			const answer = new Answerer(world).probe(probe, (query.once ?? true) ? state.hit : new Set()).answer;
			if (answer.status === 'tie') {
				state.undecided++;
				events.push({ k, t, kind: 'undecided', swing: index, tied: answer.tied });
				return;
			}
			for (const s of answer.selected) {
				state.hits++;
				state.hit.add(s.object);
				events.push({ k, t, kind: 'hit', swing: index, object: s.object, through: s.through, box: open[s.box ?? 0] });
			}
		});
		let after = set;
		(run.presses ?? []).forEach((press, p) => {
			if (pressed.has(p) || t < press.at - NEAR) return;
			pressed.add(p);
			const e = (run.watch ?? []).findIndex((w) => (w.id ?? w.query) === press.watch);
			const entry = run.watch?.[e];
			const objects = (entries[e] as Entry).selected;
			events.push({ k, t, kind: 'press', watch: press.watch, objects: [...objects] });
			const query = at.queries.find((q) => q.id === entry?.query) as Query;
			for (const id of objects) {
				const object = at.scene.objects.find((o) => o.id === id) as SceneObject;
				const family = buildWorld(at).objectById.get(id)?.tags ?? new Set<string>();
				const asker = at.scene.objects.find((o) => o.id === query.asker);
				const meets = (c: Condition) =>
					conditionHolds(
						(c.of === 'scene' ? at.scene.states : c.of === 'asker' ? asker?.states : object.states)?.[c.state],
						c,
					);
				const outcome = query.outcomes?.find(
					(o) => (o.tag === undefined || family.has(o.tag)) && (o.when ?? []).every(meets),
				);
				const action = outcome?.action === undefined ? (object.action ?? null) : outcome.action;
				const effect = project.effects?.find((x) => x.action === action);
				if (effect)
					after = run_(project, run, t, after, effect, id, query.asker ?? null, (event) =>
						events.push({ k, t, ...event }),
					);
			}
		});
		seenBetween[k] = entries.map(() => new Map());
		if (k < last)
			for (let j = 1; j < n; j++) {
				const between = (k + j / n) * run.step;
				const then = projectAtTime(project, run, between, set);
				(run.watch ?? []).forEach((entry, e) => {
					const answer = asked(then, then.queries.find((q) => q.id === entry.query) as Query);
					for (const v of answer.verdicts)
						if (TOUCHED.includes(v.stage)) {
							const seen = (seenBetween[k] as Map<string, number>[])[e] as Map<string, number>;
							if (!seen.has(v.object)) seen.set(v.object, between);
						}
				});
				(run.swings ?? []).forEach((swing, index) => {
					const query = then.queries.find((q) => q.id === swing.query);
					if (query?.kind !== 'hitbox') return;
					const boxes = query.boxes.filter(
						(b) => swing.at + (b.from ?? 0) <= between + NEAR && between <= swing.at + (b.until ?? Infinity) + NEAR,
					);
					if (boxes.length === 0) return;
					const answer = asked(then, { ...query, boxes });
					if (answer.status !== 'tie')
						for (const s of answer.selected) {
							const state = swings[index] as (typeof swings)[number];
							if (!state.between.has(s.object)) state.between.set(s.object, { after: k, t: between });
						}
				});
			}
		set = after;
	}
	for (let k = 0; k < last; k++)
		(run.watch ?? []).forEach((entry, e) => {
			for (const [object, t] of (seenBetween[k] as Map<string, number>[])[e] as Map<string, number>)
				if (![k, k + 1].some((at) => ((touchedAt[at] as string[][])[e] as string[]).includes(object)))
					missed.push({
						t,
						order: e,
						place: placeOf(object),
						event: { kind: 'missed', watch: entry.id ?? entry.query, object, after: k, t },
					});
		});
	swings.forEach((state, index) => {
		for (const [object, { after, t }] of state.between)
			if (!state.hit.has(object))
				missed.push({
					t,
					order: entries.length + index,
					place: placeOf(object),
					event: { kind: 'missed', swing: index, object, after, t },
				});
	});
	missed.sort((a, b) => a.t - b.t || a.order - b.order || a.place - b.place);
	events.push(...missed.map((m) => m.event));
	return {
		run: run.id,
		steps: last + 1,
		events,
		watch: (run.watch ?? []).map((entry, e) => {
			const state = entries[e] as Entry;
			const holds = state.changes.flatMap((c, i) => {
				const next = state.changes[i + 1];
				return c.held && next ? [next.t - c.t] : [];
			});
			return {
				id: entry.id ?? entry.query,
				changes: state.changes.filter((c) => c.k > 0).length,
				shortest: holds.length === 0 ? null : Math.min(...holds),
				tied: state.tiedSteps * run.step,
				unlike: entry.keeps === 'one' || entry.stick ? state.unlike : null,
			};
		}),
		swings: swings.map((s, i) => ({
			hits: s.hits,
			undecided: s.undecided,
			missed: missed.filter((m) => m.order === entries.length + i).length,
		})),
	};
}

/** One effect on what earlier lines left. @returns all that is set then */
function run_(
	project: Project,
	run: Run,
	t: number,
	before: readonly Set_[],
	effect: Effect,
	target: string,
	asker: string | null,
	say: (event: Plain) => void,
): Set_[] {
	const set = [...before];
	for (const [index, line] of effect.do.entries()) {
		const refuse = (why: string) => say({ kind: 'refused', action: effect.action, line: index, why });
		const now = projectAtTime(project, run, t, set);
		const who = (w: unknown): string | null =>
			w === 'target' ? target : w === 'asker' ? asker : (w as { object: string }).object;
		if (line.of === 'scene') {
			const states: Record<string, StateValue> = { ...line.set?.states };
			for (const [s, by] of Object.entries(line.add ?? {})) states[s] = numberOf(now.scene.states?.[s]) + by;
			set.push({ of: null, overlay: { states } });
			continue;
		}
		const of = who(line.of);
		if (of === null) {
			refuse('no-asker');
			continue;
		}
		const up = (id: string) => now.scene.objects.find((o) => o.id === id)?.parent;
		const hangs = (id: string): boolean => {
			for (let at: string | undefined = id; at !== undefined; at = up(at)) if (at === of) return true;
			return false;
		};
		if (line.set) {
			if (typeof line.set.parent === 'string' && hangs(line.set.parent)) refuse('cycle');
			else set.push({ of, overlay: line.set });
		} else if (line.add) {
			const states: Record<string, StateValue> = {};
			for (const [s, by] of Object.entries(line.add))
				states[s] = numberOf(now.scene.objects.find((o) => o.id === of)?.states?.[s]) + by;
			set.push({ of, overlay: { states } });
		} else if (line.carriedBy) {
			const by = who(line.carriedBy);
			if (by === null) refuse('no-asker');
			else if (hangs(by)) refuse('cycle');
			else set.push({ of, overlay: { parent: by, position: line.at ?? [0, 0, 0], rotation: [0, 0, 0] } });
		} else {
			const o = buildWorld(now).objectById.get(of);
			if (o)
				set.push({
					of,
					overlay: { parent: null, position: [...o.position], rotation: eulerOf(o.rotation), scale: [...o.scale] },
				});
		}
	}
	return set;
}
