/**
 * What a run-through must do, written down from the contract (§12) a second time: at every instant a whole project is made whose scene
 * is the scene at that time, and every query is answered of it in full. Slow on purpose; for tests only.
 */

import { eulerOf, type Matrix, multiply, turned } from '../../geometry/matrix';
import type { Condition, Effect, Overlay, Project, Query, Run, SceneObject, StateValue } from '../../project/schema';
import { Answerer } from '../../query/answer';
import type { Answer } from '../../query/types';
import { buildWorld, type WorldObject } from '../../world/world';
import { Oracle } from './answer';
import type { Thing } from './scene';
import { back, sub, turn } from './sets';
import { holds as conditionHolds, Touching } from './touching';

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

/** What is seen of a scene by one who is late: objects of then, but for those tied to the asker (contract §20). */
function mixedProject(now: Project, then: Project, askerId: string | undefined): Project {
	const line = (at: Project, id: string): string[] => {
		const up = at.scene.objects.find((o) => o.id === id)?.parent;
		return up === undefined ? [id] : [id, ...line(at, up)];
	};
	const ids = now.scene.objects.map((o) => o.id);
	let ofNow = new Set<string>();
	if (askerId !== undefined) {
		const tied = line(now, askerId);
		ofNow = new Set(ids.filter((id) => line(now, id).some((x) => tied.includes(x))));
		const gone = ids.filter(
			(id) =>
				!ofNow.has(id) &&
				line(then, id)
					.slice(1)
					.some((x) => ofNow.has(x)),
		);
		for (const id of ids) if (line(now, id).some((x) => gone.includes(x))) ofNow.add(id);
	}
	const [worldNow, worldThen] = [buildWorld(now), buildWorld(then)];
	const objects = ids.map((id): SceneObject => {
		const own = ofNow.has(id) ? now : then;
		const object = own.scene.objects.find((o) => o.id === id) as SceneObject;
		if (object.parent === undefined || ofNow.has(object.parent) === ofNow.has(id)) return object;
		const stands = (own === now ? worldNow : worldThen).objectById.get(id) as WorldObject;
		const { parent: _, ...rest } = object;
		return {
			...rest,
			position: [...stands.position],
			rotation: eulerOf(stands.rotation),
			scale: [...stands.scale],
			active: stands.active,
		};
	});
	const bare: Project = { ...now, scene: { ...now.scene, objects, cameras: [] } };
	const mixed = buildWorld(bare);
	// A camera is where it is now, whatever has become of what it hangs on.
	const cameras = now.scene.cameras.map((camera) => {
		const on = camera.object === undefined ? undefined : mixed.objectById.get(camera.object);
		const at = worldNow.cameras.get(camera.id);
		if (!on || !at) return camera;
		const r = on.rotation;
		const back: Matrix = [r[0], r[3], r[6], r[1], r[4], r[7], r[2], r[5], r[8]] as never;
		const [x, y, z] = turned(
			back,
			at.position[0] - on.position[0],
			at.position[1] - on.position[1],
			at.position[2] - on.position[2],
		);
		const [sx, sy, sz] = on.scale;
		return {
			...camera,
			position: [x / sx, y / sy, z / sz] as [number, number, number],
			rotation: eulerOf(multiply(back, at.rotation)),
		};
	});
	return { ...bare, scene: { ...bare.scene, cameras } };
}

/** Where an object stands to the right of a query's axis (contract §19). */
function bearingOf(at: Project, query: Query, id: string): number {
	const place = new Oracle(at, null);
	const asked = new Touching(place, query);
	asked.setUp();
	const thing = place.place.byId.get(id) as Thing;
	const six = (v: number): number => Number(v.toFixed(6));
	if (query.kind === 'pick') {
		const { source, frame } = asked.camera();
		const local = back(frame.axes, sub(thing.focus, frame.position));
		const perspective = source.projection === 'perspective';
		if (perspective ? local[2] >= 0 : local[2] > 0) return Infinity;
		const [w, h] = query.viewport;
		const half = perspective ? Math.tan((source.fov * Math.PI) / 360) * -local[2] : source.height / 2;
		return six((local[0] / half) * (h / 2) + w / 2);
	}
	const flat = at.scene.kind === 'flat';
	const asker = query.asker === undefined ? undefined : place.place.byId.get(query.asker);
	const ahead: [number, number, number] = flat ? [1, 0, 0] : [0, 0, -1];
	const axis = query.view?.about
		? asked.about
		: asked.volume
			? asker
				? turn(asker.frame.axes, ahead)
				: ahead
			: asked.way;
	const to = sub(asked.focusOf(thing), asked.apex);
	// As one looks down: ahead up the page, right to the right.
	const [a, b] = flat
		? [
				[axis[0], axis[1]],
				[to[0], to[1]],
			]
		: [
				[axis[0], -axis[2]],
				[to[0], -to[2]],
			];
	const [[ax, ay], [bx, by]] = [a, b] as [[number, number], [number, number]];
	if (Math.hypot(ax, ay) <= 1e-9 || Math.hypot(bx, by) <= 1e-9) return 0;
	const degrees = six(((Math.atan2(ay, ax) - Math.atan2(by, bx)) * 180) / Math.PI);
	return degrees > 180 ? six(degrees - 360) : degrees <= -180 ? six(degrees + 360) : degrees;
}

interface Entry {
	/** What was selected a step before, and through whom. */
	before: string[];
	beforeThrough: (string | null)[];
	answer: Answer | null;
	/** The scene it is asked of. */
	scene: Project | null;
	/** Of a lock: what it holds at this step, what it will at the next, and when each was last a contender. */
	locked: string | null;
	lastIn: Map<string, number>;
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
			before: [],
			beforeThrough: [],
			answer: null,
			scene: null,
			locked: null,
			lastIn: new Map(),
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
	const presses = run.presses ?? [];
	const numbered = presses.some((p) => p.hold !== undefined || p.do !== undefined);
	const holding: { press: number; e: number; from: number; hold: number; objects: string[] }[] = [];
	const tally = (run.watch ?? []).map(() => ({ held: 0, broken: 0 }));
	const sets: Set_[][] = [];
	/** The scene at a time, for a query of one who is late. */
	const seenLate = (k: number, t: number, late: number, id: string): Project => {
		const now = projectAtTime(project, run, t, sets[k] as Set_[]);
		if (late <= 0) return now;
		const before = Math.max(0, t - late);
		const then = projectAtTime(project, run, before, sets[Math.floor(before / run.step + 1e-9)] as Set_[]);
		return mixedProject(now, then, now.queries.find((q) => q.id === id)?.asker);
	};
	const placeOf = (id: string) => project.scene.objects.findIndex((o) => o.id === id);
	const touchedAt: string[][][] = [];
	const seenBetween: Map<string, number>[][] = [];

	for (let k = 0; k <= last; k++) {
		const t = k * run.step;
		sets[k] = set;
		const at = projectAtTime(project, run, t, set);
		const target = (id: string) => at.scene.objects.find((o) => o.id === id)?.standsFor ?? id;
		touchedAt[k] = [];
		(run.watch ?? []).forEach((entry, e) => {
			const watch = entry.id ?? entry.query;
			const state = entries[e] as Entry;
			const query = at.queries.find((q) => q.id === entry.query) as Query;
			const scene = seenLate(k, t, entry.late ?? 0, entry.query);
			const answer = asked(scene, query);
			Object.assign(state, { answer, scene, before: state.selected, beforeThrough: state.through });
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
			const prompt = entry.late ? asked(at, query).selected.map((s) => s.object) : selected;
			if (entry.keeps === 'lock') {
				const kept = answer.verdicts.filter((v) => CONTENDS.includes(v.stage) && v.rule !== 'stands-for');
				for (const v of kept) state.lastIn.set(target(v.object), t);
				if (state.locked !== null && !((state.lastIn.get(state.locked) ?? -1e9) >= t - (entry.patience ?? 0) - 1e-9))
					state.locked = null;
				selected = state.locked === null ? [] : [state.locked];
				const by = kept.find((v) => target(v.object) === state.locked)?.object;
				through = selected.map((id) => (by === undefined || by === id ? null : by));
				tied = [];
			} else if (entry.keeps === 'one') {
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
				const instead = insteadOf(answer, state.selected, state.through, i);
				events.push({ k, t, kind: 'choose', watch, selected, tied, instead });
				state.changes.push({ k, t, held: selected.length > 0 });
			}
			if (tied.length > 0) state.tiedSteps++;
			if (JSON.stringify(selected) !== JSON.stringify(prompt)) state.unlike++;
			Object.assign(state, { touched, contenders, selected, tied, through });
		});
		(run.swings ?? []).forEach((swing, index) => {
			const state = swings[index] as (typeof swings)[number];
			const query = at.queries.find((q) => q.id === swing.query);
			if (query?.kind !== 'hitbox') return;
			const scene = seenLate(k, t, swing.late ?? 0, swing.query);
			const open = query.boxes.flatMap((b, i) =>
				swing.at + (b.from ?? 0) <= t + NEAR && t <= swing.at + (b.until ?? Infinity) + NEAR ? [i] : [],
			);
			if (open.length === 0) return;
			// What was hit is left out of the contenders but still blocks: asked of what is left when it is taken away from the choice.
			const probe = { ...query, boxes: open.map((i) => query.boxes[i] as (typeof query.boxes)[number]) };
			const world = buildWorld(scene);
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
		/** What the objects an entry holds have for an action happens. */
		const act = (e: number, objects: readonly string[]): void => {
			const query = at.queries.find((q) => q.id === run.watch?.[e]?.query) as Query;
			const scene = (entries[e] as Entry).scene as Project;
			for (const id of objects) {
				const object = scene.scene.objects.find((o) => o.id === id) as SceneObject;
				const family = buildWorld(scene).objectById.get(id)?.tags ?? new Set<string>();
				const asker = scene.scene.objects.find((o) => o.id === query.asker);
				const meets = (c: Condition) =>
					conditionHolds(
						(c.of === 'scene' ? scene.scene.states : c.of === 'asker' ? asker?.states : object.states)?.[c.state],
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
		};
		for (const one of [...holding]) {
			const state = entries[one.e] as Entry;
			const watch = run.watch?.[one.e]?.id ?? run.watch?.[one.e]?.query;
			const drop = () => holding.splice(holding.indexOf(one), 1);
			if (JSON.stringify(state.selected) !== JSON.stringify(one.objects)) {
				drop();
				(tally[one.e] as { broken: number }).broken++;
				const i = state.before.findIndex((id) => !state.selected.includes(id));
				const instead = insteadOf(state.answer as Answer, state.before, state.beforeThrough, i);
				events.push({
					k,
					t,
					kind: 'broken',
					watch,
					press: one.press,
					objects: one.objects,
					lasted: t - one.from,
					instead,
				});
			} else if (t >= one.from + one.hold - 1e-9) {
				drop();
				(tally[one.e] as { held: number }).held++;
				events.push({ k, t, kind: 'held', watch, press: one.press, objects: one.objects });
				act(one.e, one.objects);
			}
		}
		(run.presses ?? []).forEach((press, p) => {
			if (pressed.has(p) || t < press.at - NEAR) return;
			pressed.add(p);
			const e = (run.watch ?? []).findIndex((w) => (w.id ?? w.query) === press.watch);
			const entry = run.watch?.[e];
			const state = entries[e] as Entry;
			if (press.do !== undefined) {
				const from = state.locked;
				const first = state.answer?.selected[0]?.object ?? from;
				if (press.do === 'release') state.locked = null;
				else if (press.do === 'lock' || from === null) state.locked = first;
				else if ((state.answer?.verdicts.length ?? 0) > 0) {
					const scene = state.scene as Project;
					const query = scene.queries.find((q) => q.id === entry?.query) as Query;
					const stand = (id: string) => scene.scene.objects.find((o) => o.id === id)?.standsFor ?? id;
					const ring = (state.answer as Answer).verdicts
						.filter((v) => CONTENDS.includes(v.stage) && v.rule !== 'stands-for')
						.map((v) => ({ id: stand(v.object), at: bearingOf(scene, query, v.object) }));
					if (!ring.some((r) => r.id === from)) ring.push({ id: from, at: bearingOf(scene, query, from) });
					ring.sort((x, y) => (x.at === y.at ? placeOf(x.id) - placeOf(y.id) : x.at < y.at ? -1 : 1));
					const i = ring.findIndex((r) => r.id === from) + (press.do === 'next' ? 1 : ring.length - 1);
					state.locked = (ring[i % ring.length] as { id: string }).id;
				}
				events.push({ k, t, kind: 'lock', watch: press.watch, press: p, do: press.do, from, to: state.locked });
				return;
			}
			const objects = [...state.selected];
			events.push({ k, t, kind: 'press', watch: press.watch, ...(numbered ? { press: p } : {}), objects });
			if (press.hold === undefined) act(e, objects);
			else if (objects.length > 0) holding.push({ press: p, e, from: t, hold: press.hold, objects });
		});
		seenBetween[k] = entries.map(() => new Map());
		if (k < last)
			for (let j = 1; j < n; j++) {
				const between = (k + j / n) * run.step;
				(run.watch ?? []).forEach((entry, e) => {
					const then = seenLate(k, between, entry.late ?? 0, entry.query);
					const answer = asked(then, then.queries.find((q) => q.id === entry.query) as Query);
					for (const v of answer.verdicts)
						if (TOUCHED.includes(v.stage)) {
							const seen = (seenBetween[k] as Map<string, number>[])[e] as Map<string, number>;
							if (!seen.has(v.object)) seen.set(v.object, between);
						}
				});
				(run.swings ?? []).forEach((swing, index) => {
					const then = seenLate(k, between, swing.late ?? 0, swing.query);
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
				unlike: entry.keeps === 'one' || entry.keeps === 'lock' || entry.stick || entry.late ? state.unlike : null,
				...(presses.some((p) => p.hold !== undefined)
					? { ...tally[e], unfinished: holding.filter((one) => one.e === e).length }
					: {}),
			};
		}),
		swings: swings.map((s, i) => ({
			hits: s.hits,
			undecided: s.undecided,
			missed: missed.filter((m) => m.order === entries.length + i).length,
		})),
	};
}

/** The verdict on one that was selected, or on who it was selected through. */
function insteadOf(answer: Answer, selected: string[], through: (string | null)[], i: number): Plain | null {
	const by = through[i] ?? null;
	const v = answer.verdicts.find((x) => x.object === (by ?? selected[i]));
	return i < 0 || !v
		? null
		: { object: selected[i], through: by, stage: v.stage, by: v.by ?? null, margin: v.margin ?? null };
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
