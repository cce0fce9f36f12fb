/** A run-through: the scene taken from step to step, and what the watched queries, swings and presses make of it (contract §12). */
import { lastStep, SUBSTEPS, TIME_EPSILON, watchId } from '../project/defaults';
import type { Project, Query, QueryOf, Run, WatchEntry } from '../project/schema';
import { Answerer, outcomeOf, type Probed } from '../query/answer';
import { isOpenAt } from '../query/windows';
import type { World } from '../world/world';
import { type Chosen, contendersOf, NOTHING_CHOSEN, sameChoice } from './chosen';
import { runEffect } from './effects';
import type { Instead, RunEvent, RunResult, WatchFigures } from './events';
import { LateScene } from './late';
import { Memory } from './memory';
import { type InForce, nothingInForce, RunScene } from './scene';

interface Watched {
	id: string;
	entry: WatchEntry;
	memory: Memory;
	touched: Set<string>;
	contenders: Set<string>;
	changes: number;
	tiedSteps: number;
	unlike: number;
	/** The last choose event with something selected, seconds; null while nothing is held. */
	heldFrom: number | null;
	shortest: number | null;
	/** Touched at the step before the last one, and first seen between: by object. */
	between: Map<string, number>;
	/** What it chose at the step before. */
	before: Chosen;
	/** What it was answered at this step, and by whom. */
	now: { answerer: Answerer; probed: Probed } | null;
	held: number;
	broken: number;
}

/** A press of which something is still to come. */
interface Holding {
	press: number;
	w: Watched;
	/** Seconds; the step at which it fell. */
	from: number;
	hold: number;
	objects: readonly string[];
}

interface Swing {
	index: number;
	at: number;
	query: string;
	late: number;
	/** All that was hit at any step, as answered for: with `once` it is not hit again, and nothing of it was missed. */
	hit: Set<string>;
	/** First instant between the steps at which each was selected. */
	between: Map<string, { after: number; t: number }>;
	hits: number;
	undecided: number;
	/** The query with these boxes alone, by which they are: the same one for the same boxes. */
	withBoxes: Map<string, { of: Query; query: QueryOf<'hitbox'>; boxes: number[] }>;
}

/** Who wants to be told while a run goes on. */
export interface RunOptions {
	/** Told how many steps are done. */
	progress?: (done: number, of: number) => void;
	/** Told what effects have set, each time that becomes other: it is in force from step `from` on. */
	standing?: (standing: StateAtTime) => void;
}

/** What effects have set, from a step on. */
export interface StateAtTime {
	from: number;
	inForce: InForce;
}

/**
 * Runs a run-through of a project.
 * @example
 * const result = runThrough(project, project.runs[0]);
 * for (const event of result.events) console.log(event.t, event.kind);
 * @param project a valid project
 * @throws RangeError for an unknown moment
 */
export function runThrough(project: Project, run: Run, { progress, standing }: RunOptions = {}): RunResult {
	const scene = new RunScene(project, run);
	const events: RunEvent[] = [];
	const last = lastStep(run);
	const n = run.between ?? SUBSTEPS;
	const watched = (run.watch ?? []).map(
		(entry): Watched => ({
			id: watchId(entry),
			entry,
			memory: new Memory(entry),
			touched: new Set(),
			contenders: new Set(),
			changes: 0,
			tiedSteps: 0,
			unlike: 0,
			heldFrom: null,
			shortest: null,
			between: new Map(),
			before: NOTHING_CHOSEN,
			now: null,
			held: 0,
			broken: 0,
		}),
	);
	const swings = (run.swings ?? []).map(
		({ query, at, late = 0 }, index): Swing => ({
			index,
			at,
			query,
			late,
			hit: new Set(),
			between: new Map(),
			hits: 0,
			undecided: 0,
			withBoxes: new Map(),
		}),
	);
	const effects = new Map((project.effects ?? []).map((e) => [e.action, e]));
	const presses = (run.presses ?? []).map((press, index) => ({ ...press, index, done: false }));
	/** Presses that are held or act on locks are told apart by their place. */
	const numbered = presses.some((press) => press.hold !== undefined || press.do !== undefined);
	const holdings: Holding[] = [];
	const times = new Times(project, run, scene);
	const missedWatch: { t: number; order: number; place: number; event: RunEvent }[] = [];
	let inForce = nothingInForce();
	/** Runs the effects of what is pressed, on what earlier ones left; and says what they refuse. */
	let pending: InForce | null = null;
	const act = (w: Watched, objects: readonly string[], k: number, t: number) => {
		const query = scene.world.queryById.get(w.entry.query);
		const { world } = w.now?.answerer ?? scene;
		for (const id of objects) {
			const target = world.objectById.get(id);
			const action = query && target ? outcomeOf(world, query, target).action : null;
			const effect = action === null ? undefined : effects.get(action);
			if (!effect) continue;
			pending ??= { objects: new Map(inForce.objects), states: { ...inForce.states } };
			for (const refused of runEffect(effect, scene, pending, id, query?.asker ?? null))
				events.push({ k, t, kind: 'refused', ...refused });
		}
	};

	for (let k = 0; k <= last; k++) {
		const t = k * run.step;
		scene.to(t, inForce);
		for (const object of scene.refused.splice(0)) events.push({ k, t, kind: 'refused', object, why: 'cycle' });
		times.at(t);
		for (const [order, w] of watched.entries()) watchStep(times, w, k, t, events, missedWatch, order);
		for (const swing of swings) swingStep(times.of(swing.late, swing.query), swing, k, t, events);
		pending = null;
		goOn(holdings, k, t, events, act);
		for (const press of presses) {
			if (press.done || t < press.at - TIME_EPSILON) continue;
			press.done = true;
			const w = watched.find((one) => one.id === press.watch);
			if (!w?.now) continue;
			const { answerer, probed } = w.now;
			const number = numbered ? { press: press.index } : {};
			if (press.do !== undefined && w.memory.lock) {
				const query = answerer.world.queryById.get(w.entry.query);
				const moved = w.memory.lock.press(press.do, answerer.world, query, probed);
				events.push({ k, t, kind: 'lock', watch: w.id, press: press.index, do: press.do, ...moved });
				continue;
			}
			const objects = [...w.memory.chosen.selected];
			events.push({ k, t, kind: 'press', watch: w.id, ...number, objects });
			if (press.hold === undefined) act(w, objects, k, t);
			else if (objects.length > 0) holdings.push({ press: press.index, w, from: t, hold: press.hold, objects });
		}
		if (k < last && n > 1) lookAtSubsteps(times, inForce, watched, swings, k, run.step, n);
		if (pending) {
			inForce = pending;
			times.stands(k + 1, inForce);
			standing?.({ from: k + 1, inForce });
		}
		if (k % 64 === 0) progress?.(k, last + 1);
	}

	const missed = [...missedWatch];
	for (const swing of swings)
		for (const [object, { after, t }] of swing.between)
			if (!swing.hit.has(object))
				missed.push({
					t,
					order: watched.length + swing.index,
					place: scene.world.objectById.get(object)?.index ?? 0,
					event: { kind: 'missed', swing: swing.index, object, after, t },
				});
	missed.sort((a, b) => a.t - b.t || a.order - b.order || a.place - b.place);
	events.push(...missed.map((m) => m.event));
	progress?.(last + 1, last + 1);
	return {
		run: run.id,
		steps: last + 1,
		events,
		watch: watched.map((w) => ({
			...figuresOf(w, run.step),
			...(presses.some((press) => press.hold !== undefined)
				? { held: w.held, broken: w.broken, unfinished: holdings.filter((one) => one.w === w).length }
				: {}),
		})),
		swings: swings.map((s) => ({
			hits: s.hits,
			undecided: s.undecided,
			missed: missed.filter((m) => m.order === watched.length + s.index).length,
		})),
	};
}

const figuresOf = (w: Watched, step: number): WatchFigures => ({
	id: w.id,
	changes: w.changes,
	shortest: w.shortest,
	tied: w.tiedSteps * step,
	unlike: w.entry.keeps === 'one' || w.entry.keeps === 'lock' || w.entry.stick || w.entry.late ? w.unlike : null,
});

const NOBODY: Probed = {
	answer: { query: '', status: 'off', selected: [], tied: [], notes: [], verdicts: [] },
	verdicts: [],
	touched: [],
	touching: null,
};

/** The scenes of one instant: as it is, and as those see it who are late. */
class Times {
	private readonly scenes = new Map<string, LateScene>();
	private readonly answerers = new Map<string, Answerer>();
	private readonly history: { from: number; inForce: InForce }[] = [{ from: 0, inForce: nothingInForce() }];
	private t = 0;

	constructor(
		private readonly project: Project,
		private readonly run: Run,
		readonly scene: RunScene,
	) {}

	/** From a step on other effects are in force. */
	stands(from: number, inForce: InForce): void {
		this.history.push({ from, inForce });
	}

	/** The scene was taken to a time. */
	at(t: number): void {
		this.t = t;
		this.answerers.clear();
	}

	/** Who answers a query, late by so many seconds. */
	of(late: number, id: string): Answerer {
		const asker = late > 0 ? this.scene.world.queryById.get(id)?.asker : undefined;
		const key = late > 0 ? `${late} ${asker ?? ''}` : '';
		let answerer = this.answerers.get(key);
		if (!answerer) {
			answerer = new Answerer(late > 0 ? this.lateWorld(late, asker, key) : this.scene.world);
			this.answerers.set(key, answerer);
		}
		return answerer;
	}

	private lateWorld(late: number, asker: string | undefined, key: string): World {
		let scene = this.scenes.get(key);
		if (!scene) {
			scene = new LateScene(this.project, this.run, late, asker);
			this.scenes.set(key, scene);
		}
		return scene.at(
			this.t,
			this.scene.laid(),
			this.scene.world,
			(k) => (this.history.findLast((one) => one.from <= k) as { inForce: InForce }).inForce,
		);
	}
}

/** Presses under way, in the order in which they began: broken, held long enough, or not over yet. */
function goOn(
	holdings: Holding[],
	k: number,
	t: number,
	events: RunEvent[],
	act: (w: Watched, objects: readonly string[], k: number, t: number) => void,
): void {
	for (const one of [...holdings]) {
		const { w, press, from, hold, objects } = one;
		const { selected } = w.memory.chosen;
		const isSame = selected.length === objects.length && selected.every((id, i) => id === objects[i]);
		if (isSame && t < from + hold - TIME_EPSILON) continue;
		holdings.splice(holdings.indexOf(one), 1);
		if (isSame) {
			events.push({ k, t, kind: 'held', watch: w.id, press, objects: [...objects] });
			w.held++;
			act(w, objects, k, t);
			continue;
		}
		const query = w.now?.answerer.world.queryById.get(w.entry.query);
		const instead = w.now ? insteadOf(w.now.answerer, query, w.now.probed, w.before, w.memory.chosen) : null;
		events.push({ k, t, kind: 'broken', watch: w.id, press, objects: [...objects], lasted: t - from, instead });
		w.broken++;
	}
}

function watchStep(
	times: Times,
	w: Watched,
	k: number,
	t: number,
	events: RunEvent[],
	missed: { t: number; order: number; place: number; event: RunEvent }[],
	order: number,
): void {
	const { late = 0, query: id } = w.entry;
	const answerer = times.of(late, id);
	const { world } = answerer;
	const query = world.queryById.get(id);
	const probed = query ? answerer.probe(query) : NOBODY;
	w.now = { answerer, probed };
	const touched = new Set(probed.touched.map((o) => o.id));
	const contenders = new Set(contendersOf(probed).map((o) => o.id));
	const inOrder = (ids: Iterable<string>): string[] =>
		[...ids].sort((a, b) => (world.objectById.get(a)?.index ?? 0) - (world.objectById.get(b)?.index ?? 0));
	const say = (kind: 'leave' | 'enter' | 'lose' | 'gain', from: Set<string>, without: Set<string>): string[] => {
		const ids = inOrder([...from].filter((id) => !without.has(id)));
		for (const object of ids) events.push({ k, t, kind, watch: w.id, object });
		return ids;
	};
	// What was touched between this step and the one before, and at neither of them.
	for (const [object, at] of w.between)
		if (!touched.has(object))
			missed.push({
				t: at,
				order,
				place: world.objectById.get(object)?.index ?? 0,
				event: { kind: 'missed', watch: w.id, object, after: k - 1, t: at },
			});
	w.between.clear();
	say('leave', w.touched, touched);
	say('enter', touched, w.touched);
	const lost = say('lose', w.contenders, contenders);
	const gained = say('gain', contenders, w.contenders);
	const before = k === 0 ? NOTHING_CHOSEN : w.memory.chosen;
	w.before = before;
	const now = w.memory.step(world, probed, t, lost, gained);
	if (!sameChoice(before, now)) {
		events.push({
			k,
			t,
			kind: 'choose',
			watch: w.id,
			selected: [...now.selected],
			tied: [...now.tied],
			instead: insteadOf(answerer, query, probed, before, now),
		});
		if (k > 0) w.changes++;
		if (w.heldFrom !== null) w.shortest = Math.min(w.shortest ?? Infinity, t - w.heldFrom);
		w.heldFrom = now.selected.length > 0 ? t : null;
	}
	if (now.tied.length > 0) w.tiedSteps++;
	const answer = late > 0 && query ? times.of(0, id).winner(query) : probed.answer;
	const own = answer.selected.map((s) => s.object);
	if (own.length !== now.selected.length || own.some((id, i) => id !== now.selected[i])) w.unlike++;
	w.touched = touched;
	w.contenders = contenders;
}

/** The verdict on the first that was selected before and is not now. */
function insteadOf(
	answerer: Answerer,
	query: Query | undefined,
	probed: Probed,
	before: Chosen,
	now: Chosen,
): Instead | null {
	const at = before.selected.findIndex((id) => !now.selected.includes(id));
	const object = before.selected[at];
	const { status } = probed.answer;
	if (object === undefined || !query || status === 'off' || status === 'waiting') return null;
	const through = before.through[at] ?? null;
	const of = answerer.world.objectById.get(through ?? object);
	if (!of) return null;
	// Of all the others nobody reads by how much they were missed.
	const verdict = probed.verdicts[of.index] ?? answerer.explain(query, undefined, true).verdicts[of.index];
	if (!verdict) return null;
	return {
		object,
		through,
		stage: verdict.stage,
		by: verdict.by ?? null,
		margin: verdict.margin ?? null,
		...(verdict.rule === undefined ? {} : { rule: verdict.rule }),
	};
}

/** The query of a swing with the boxes that are open at a time; null where none is. */
function openBoxes(world: World, swing: Swing, t: number): { query: QueryOf<'hitbox'>; boxes: number[] } | null {
	const query = world.queryById.get(swing.query);
	if (query?.kind !== 'hitbox') return null;
	const boxes = query.boxes.flatMap((box, i) => (isOpenAt(box, t - swing.at) ? [i] : []));
	if (boxes.length === 0) return null;
	const key = boxes.join();
	let known = swing.withBoxes.get(key);
	if (!known || known.of !== query) {
		known = {
			of: query,
			boxes,
			query: { ...query, boxes: boxes.map((i) => query.boxes[i] as (typeof query.boxes)[number]) },
		};
		swing.withBoxes.set(key, known);
	}
	return known;
}

function swingStep(answerer: Answerer, swing: Swing, k: number, t: number, events: RunEvent[]): void {
	const open = openBoxes(answerer.world, swing, t);
	if (!open) return;
	const once = open.query.once ?? true;
	const { answer } = answerer.probe(open.query, once ? swing.hit : new Set());
	if (answer.status === 'tie') {
		events.push({ k, t, kind: 'undecided', swing: swing.index, tied: [...answer.tied] });
		swing.undecided++;
		return;
	}
	for (const { object, through, box } of answer.selected) {
		events.push({ k, t, kind: 'hit', swing: swing.index, object, through, box: open.boxes[box ?? 0] ?? 0 });
		swing.hit.add(object);
		swing.hits++;
	}
}

/** The instants between a step and the next: what the stepped game does not notice (contract §12.7). */
function lookAtSubsteps(
	times: Times,
	inForce: ReturnType<typeof nothingInForce>,
	watched: readonly Watched[],
	swings: readonly Swing[],
	k: number,
	step: number,
	n: number,
): void {
	for (let j = 1; j < n; j++) {
		const t = (k + j / n) * step;
		times.scene.to(t, inForce);
		times.at(t);
		for (const w of watched) {
			const answerer = times.of(w.entry.late ?? 0, w.entry.query);
			const query = answerer.world.queryById.get(w.entry.query);
			if (!query) continue;
			for (const { id } of answerer.probe(query, undefined, true).touched)
				if (!w.touched.has(id) && !w.between.has(id)) w.between.set(id, t);
		}
		for (const swing of swings) {
			const answerer = times.of(swing.late, swing.query);
			const open = openBoxes(answerer.world, swing, t);
			if (!open) continue;
			const { answer } = answerer.probe(open.query, new Set());
			if (answer.status === 'tie') continue;
			for (const { object } of answer.selected)
				if (!swing.between.has(object)) swing.between.set(object, { after: k, t });
		}
	}
}
