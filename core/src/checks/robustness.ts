/** How firmly a check holds: how far cursor, aim or asker may move before the answer is another one. */

import { rotationOf, turned } from '../geometry/matrix';
import { stillChecks } from '../project/check-kinds';
import type { Expect, Project, Query, SceneObject, Vec3 } from '../project/schema';
import { Answerer } from '../query/answer';
import { isNote, placementOf } from '../query/placement';
import type { Answer } from '../query/types';
import { buildWorld, moveObjects, type World } from '../world/world';
import { failureOf } from './check';
import { expectationOf } from './expect';

/** What is moved by a little: the cursor, pixels; the aim, degrees; the asker, metres. */
export type Perturbation = 'cursor' | 'aim' | 'asker';

/** How far one perturbation can go before the answer is another one. */
export interface RobustnessMargin {
	perturbation: Perturbation;
	unit: 'px' | '°' | 'm';
	/** The least perturbation that changes the outcome; null where none up to `most` does. */
	least: number | null;
	most: number;
	/** The way of that perturbation: picture axes for the cursor, yaw and pitch for the aim, world axes for the asker; unit length. */
	way: readonly number[];
	/** What the answer would be there; null where it does not change. */
	becomes: Answer | null;
}

/** How firmly one check holds, against every perturbation its query allows. */
export interface Robustness {
	check: string;
	/** Empty for a check that fails, or where nothing can be answerPerturbed. */
	margins: RobustnessMargin[];
	/** The weakest of them against what a hand does without meaning to (10 px, 1°, 0.1 m); null where nothing changes it. */
	score: number | null;
}

const UNIT = { cursor: 'px', aim: '°', asker: 'm' } as const;
const MOST = { cursor: 200, aim: 30, asker: 2 };
const FIRST = { cursor: 0.25, aim: 0.02, asker: 0.002 };
/** A perturbation that a hand or a level change makes without anyone noticing. */
const USUAL = { cursor: 10, aim: 1, asker: 0.1 };
const WAYS = 16;

const ring = (): number[][] =>
	Array.from({ length: WAYS }, (_, i) => [Math.cos((2 * Math.PI * i) / WAYS), Math.sin((2 * Math.PI * i) / WAYS)]);

/** What a perturbation makes of a query, or of its asker; null where it can make nothing. */
type Perturbed = { query: Query } | { asker: SceneObject } | null;

/** @param by how far, in the perturbation's unit */
function perturbed(world: World, query: Query, kind: Perturbation, way: readonly number[], by: number): Perturbed {
	const [u, v] = [(way[0] ?? 0) * by, (way[1] ?? 0) * by];
	if (kind === 'cursor') {
		if (query.kind !== 'pick') return null;
		const [x, y] = query.cursor ?? [query.viewport[0] / 2, query.viewport[1] / 2];
		return { query: { ...query, cursor: [x + u, y + v] } };
	}
	if (kind === 'aim') {
		if (query.kind !== 'ray' && query.kind !== 'sweep') return null;
		const asker = query.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
		const placement = placementOf({ world, query, asker, hitOf: new Answerer(world).hitOf });
		if (isNote(placement) || !placement.path) return null;
		const [dx, dy, dz] = placement.path.dir;
		let along: Vec3;
		if (world.flat) along = turned(rotationOf([0, 0, u]), dx, dy, dz);
		else {
			const yaw = (Math.atan2(-dx, -dz) * 180) / Math.PI;
			const pitch = (Math.asin(Math.max(-1, Math.min(1, dy))) * 180) / Math.PI;
			along = turned(rotationOf([yaw + u, Math.max(-90, Math.min(90, pitch + v)), 0]), 0, 0, -1);
		}
		return { query: { ...query, aim: { along } } };
	}
	const asker = world.objectById.get(query.asker ?? '');
	if (!asker) return null;
	const { def } = asker;
	const [x, y, z] = def.position ?? [0, 0, 0];
	// Own position, under what it hangs on: a step of the asker, not of what carries it.
	return { asker: { ...def, position: world.flat ? [x + u, y + v, z] : [x + u, y, z + v] } };
}

/** A query asked with its cursor moved, its aim turned or its asker stepped aside; the world is left as it was. */
function answerPerturbed(
	world: World,
	query: Query,
	kind: Perturbation,
	way: readonly number[],
	by: number,
	judge: (query: Query) => Answer,
): Answer | null {
	const made = perturbed(world, query, kind, way, by);
	if (!made) return null;
	if ('query' in made) return judge(made.query);
	const def = world.objectById.get(made.asker.id)?.def as SceneObject;
	moveObjects(world, new Map([[def.id, made.asker]]));
	const answer = judge(query);
	moveObjects(world, new Map([[def.id, def]]));
	return answer;
}

function perturbationsOf(query: Query): Perturbation[] {
	const list: Perturbation[] = [];
	if (query.kind === 'pick') list.push('cursor');
	if ((query.kind === 'ray' || query.kind === 'sweep') && query.aim) list.push('aim');
	if (query.asker !== undefined) list.push('asker');
	return list;
}

/**
 * @param project a valid project
 * @param id of one of its checks
 * @throws RangeError for an unknown check
 */
export function robustnessOf(project: Project, id: string): Robustness {
	const check = stillChecks(project).find((c) => c.id === id);
	if (!check) throw new RangeError(`no check "${id}"`);
	const world = buildWorld(project, check.moment ?? null);
	const query = world.queryById.get(check.query);
	if (!query) throw new RangeError(`no query "${check.query}"`);
	const margins = marginsAgainst(world, query, check.expect);
	if (!margins) return { check: id, margins: [], score: 0 };
	const scores = margins.flatMap((f) => (f.least === null ? [] : [f.least / USUAL[f.perturbation]]));
	return { check: id, margins, score: scores.length === 0 ? null : Math.min(...scores) };
}

/** @returns null where the expectation does not hold as it is */
function marginsAgainst(world: World, query: Query, expect: Expect): RobustnessMargin[] | null {
	const judge = (q: Query): Answer => {
		const answerer = new Answerer(world);
		return expect.blocked ? answerer.explain(q) : answerer.winner(q);
	};
	if (failureOf(expect, judge(query)) !== '') return null;
	return perturbationsOf(query).map((kind) => leastPerturbation(world, query, expect, kind, judge));
}

/** A least change of a query or of its asker, and what it makes of the answer. */
export interface LeastChange extends RobustnessMargin {
	least: number;
	becomes: Answer;
	/** The query, or the asker, as it would be: just past the change. */
	makes: { query: Query } | { asker: SceneObject };
}

/**
 * What would change an answer with the least: cursor, aim or asker moved just far enough, the likeliest to happen unmeant first.
 * @param query id of a query of the project
 * @returns nothing where the answer is off, waits, or nothing within reach of a hand changes it
 */
export function leastChanges(project: Project, query: string, moment: string | null): LeastChange[] {
	const world = buildWorld(project, moment);
	const asked = world.queryById.get(query);
	if (!asked) throw new RangeError(`no query "${query}"`);
	const expect = expectationOf(new Answerer(world).winner(asked));
	const margins = expect && marginsAgainst(world, asked, expect);
	return (margins ?? [])
		.flatMap((f) => {
			const makes = f.least === null ? null : perturbed(world, asked, f.perturbation, f.way, f.least);
			return makes && f.becomes ? [{ ...f, makes } as LeastChange] : [];
		})
		.sort((a, b) => a.least / USUAL[a.perturbation] - b.least / USUAL[b.perturbation]);
}

function leastPerturbation(
	world: World,
	query: Query,
	expect: Expect,
	perturbation: Perturbation,
	judge: (query: Query) => Answer,
): RobustnessMargin {
	const result: RobustnessMargin = {
		perturbation,
		unit: UNIT[perturbation],
		least: null,
		most: MOST[perturbation],
		way: [0, 0],
		becomes: null,
	};
	const flatAim = perturbation === 'aim' && world.flat;
	const ways = flatAim
		? [
				[1, 0],
				[-1, 0],
			]
		: ring();
	for (const way of ways) {
		const holds = (by: number): Answer | null => {
			const answer = answerPerturbed(world, query, perturbation, way, by, judge);
			return answer === null || failureOf(expect, answer) === '' ? null : answer;
		};
		let low = 0;
		const most = result.least ?? MOST[perturbation];
		for (let by = FIRST[perturbation]; ; by = Math.min(by * 1.6, most)) {
			const changed = holds(by);
			if (changed) {
				let high = by;
				let becomes = changed;
				while (high - low > 0.01 * high) {
					const middle = (low + high) / 2;
					const there = holds(middle);
					if (there) {
						high = middle;
						becomes = there;
					} else low = middle;
				}
				if (result.least === null || high < result.least) {
					result.least = high;
					result.way = way;
					result.becomes = becomes;
				}
				break;
			}
			low = by;
			if (by >= most) break;
		}
	}
	return result;
}
