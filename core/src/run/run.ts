/** A run-through: the scene taken from step to step, and what the watched queries, swings and presses make of it (contract §12). */
import { lastStep, SUBSTEPS, TIME_EPSILON, watchId } from '../project/defaults';
import type { Project, Query, QueryOf, Run, WatchEntry } from '../project/schema';
import { Answerer, outcomeOf, type Probed } from '../query/answer';
import { isOpenAt } from '../query/windows';
import type { World } from '../world/world';
import { runEffect } from './effects';
import type { Instead, RunEvent, RunResult, WatchFigures } from './events';
import { type Chosen, contendersOf, Memory, NOTHING_CHOSEN, sameChoice } from './memory';
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
}

interface Swing {
	index: number;
	at: number;
	query: string;
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
		}),
	);
	const swings = (run.swings ?? []).map(
		({ query, at }, index): Swing => ({
			index,
			at,
			query,
			hit: new Set(),
			between: new Map(),
			hits: 0,
			undecided: 0,
			withBoxes: new Map(),
		}),
	);
	const effects = new Map((project.effects ?? []).map((e) => [e.action, e]));
	const presses = (run.presses ?? []).map((press) => ({ ...press, done: false }));
	const missedWatch: { t: number; order: number; place: number; event: RunEvent }[] = [];
	let inForce = nothingInForce();

	for (let k = 0; k <= last; k++) {
		const t = k * run.step;
		scene.to(t, inForce);
		for (const object of scene.refused.splice(0)) events.push({ k, t, kind: 'refused', object, why: 'cycle' });
		const { world } = scene;
		const answerer = new Answerer(world);
		for (const [order, w] of watched.entries()) watchStep(answerer, w, k, t, events, missedWatch, order);
		for (const swing of swings) swingStep(answerer, swing, k, t, events);
		let pending: typeof inForce | null = null;
		for (const press of presses) {
			if (press.done || t < press.at - TIME_EPSILON) continue;
			press.done = true;
			const w = watched.find((one) => one.id === press.watch);
			if (!w) continue;
			const objects = w.memory.chosen.selected;
			events.push({ k, t, kind: 'press', watch: w.id, objects: [...objects] });
			const query = world.queryById.get(w.entry.query);
			for (const id of objects) {
				const target = world.objectById.get(id);
				const action = query && target ? outcomeOf(world, query, target).action : null;
				const effect = action === null ? undefined : effects.get(action);
				if (!effect) continue;
				pending ??= { objects: new Map(inForce.objects), states: { ...inForce.states } };
				for (const refused of runEffect(effect, scene, pending, id, query?.asker ?? null))
					events.push({ k, t, kind: 'refused', ...refused });
			}
		}
		if (k < last && n > 1) lookAtSubsteps(scene, inForce, watched, swings, k, run.step, n);
		if (pending) {
			inForce = pending;
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
		watch: watched.map((w) => figuresOf(w, run.step)),
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
	unlike: w.entry.keeps === 'one' || w.entry.stick ? w.unlike : null,
});

const NOBODY: Probed = {
	answer: { query: '', status: 'off', selected: [], tied: [], notes: [], verdicts: [] },
	verdicts: [],
	touched: [],
	touching: null,
};

function watchStep(
	answerer: Answerer,
	w: Watched,
	k: number,
	t: number,
	events: RunEvent[],
	missed: { t: number; order: number; place: number; event: RunEvent }[],
	order: number,
): void {
	const { world } = answerer;
	const query = world.queryById.get(w.entry.query);
	const probed = query ? answerer.probe(query) : NOBODY;
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
	const now = w.memory.step(world, probed, lost, gained);
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
	const own = probed.answer.selected.map((s) => s.object);
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
	scene: RunScene,
	inForce: ReturnType<typeof nothingInForce>,
	watched: readonly Watched[],
	swings: readonly Swing[],
	k: number,
	step: number,
	n: number,
): void {
	for (let j = 1; j < n; j++) {
		const t = (k + j / n) * step;
		scene.to(t, inForce);
		const answerer = new Answerer(scene.world);
		for (const w of watched) {
			const query = scene.world.queryById.get(w.entry.query);
			if (!query) continue;
			for (const { id } of answerer.probe(query, undefined, true).touched)
				if (!w.touched.has(id) && !w.between.has(id)) w.between.set(id, t);
		}
		for (const swing of swings) {
			const open = openBoxes(scene.world, swing, t);
			if (!open) continue;
			const { answer } = answerer.probe(open.query, new Set());
			if (answer.status === 'tie') continue;
			for (const { object } of answer.selected)
				if (!swing.between.has(object)) swing.between.set(object, { after: k, t });
		}
	}
}
