/** A trace gone through: what the game asked is asked here, in the scene it told, and what it got is compared. */
import type { Project, Query } from '../project/schema';
import { Answerer } from '../query/answer';
import { type Answer, STAGES, type Status, type Verdict } from '../query/types';
import { anyTagsOf, type Naming, wordsOfVerdict } from '../query/words';
import { TraceError } from './read';
import { TraceScene } from './scene';
import type { Asked, TraceLine } from './schema';

/** `same`: the very ids in the very order; `unknown`: the query, or something the game got, is not in the project. */
export type Agreement = 'same' | 'other' | 'unknown';

/** One question of a game, answered here too. */
export interface Compared {
	/** Line of the trace, the first being 1, and the place of the question in it, from 0. */
	line: number;
	place: number;
	t: number;
	query: string;
	result: Agreement;
	/** What the game took; empty where it took nothing. */
	got: string[];
	/** What Frelk selects; null where it does not know the query. */
	status: Status | null;
	selected: string[];
	tied: string[];
	/** Of what the game took and Frelk does not select: the verdict on each, or on the stand-in through which it could be. */
	verdicts: Verdict[];
	/** Ids the project does not know. */
	unknown: string[];
	note: string | null;
}

/** A line gone through. */
export interface ReplayedLine {
	line: number;
	t: number;
	compared: Compared[];
	/** Objects, cameras and queries the line tells of and the project does not know. */
	unknown: string[];
}

/** How far a verdict has come: of several stand-ins the one that came furthest is told. */
const rank = (v: Verdict): number => -STAGES.indexOf(v.stage);

/** The verdict on an object answered for: its own, or that of the stand-in of it that came furthest. */
function verdictOn(project: Project, answer: Answer, id: string): Verdict | null {
	const standIns = project.scene.objects.filter((o) => o.standsFor === id).map((o) => o.id);
	const own = answer.verdicts.filter((v) => v.object === id || standIns.includes(v.object));
	own.sort((a, b) => rank(a) - rank(b));
	const found = own[0];
	// The margin of a miss is worked out when it is read, in the world as it then stands: it is read now.
	return found ? JSON.parse(JSON.stringify(found)) : null;
}

/** Goes through the lines of one trace, from the first after its head on. */
export class Replay {
	readonly scene: TraceScene;
	private readonly objects: Set<string>;

	constructor(readonly project: Project) {
		this.scene = new TraceScene(project);
		this.objects = new Set(project.scene.objects.map((o) => o.id));
	}

	/**
	 * @param number the line's place in the trace
	 * @throws TraceError where what it tells cannot be
	 */
	line(line: TraceLine, number: number): ReplayedLine {
		let unknown: string[];
		try {
			unknown = this.scene.tell(line);
		} catch (error) {
			if (error instanceof RangeError) throw new TraceError(number, `objects: ${error.message}`);
			throw error;
		}
		const asked = line.asked ?? [];
		const answerer = asked.length > 0 ? new Answerer(this.scene.world) : null;
		const compared = asked.map((one, place) =>
			this.compared(answerer as Answerer, one, { line: number, place, t: line.t }),
		);
		return { line: number, t: line.t, compared, unknown };
	}

	private compared(
		answerer: Answerer,
		{ query: id, got, note }: Asked,
		at: { line: number; place: number; t: number },
	): Compared {
		const took = got ?? [];
		const unknown = took.filter((o) => !this.objects.has(o));
		const base = { ...at, query: id, got: took, note: note ?? null };
		const query = this.scene.world.queryById.get(id) as Query | undefined;
		if (!query)
			return {
				...base,
				result: 'unknown',
				status: null,
				selected: [],
				tied: [],
				verdicts: [],
				unknown: [id, ...unknown],
			};
		const { status, selected: chosen, tied } = answerer.winner(query);
		const selected = chosen.map((s) => s.object);
		const same = selected.length === took.length && selected.every((o, i) => o === took[i]);
		const result = unknown.length > 0 ? 'unknown' : same ? 'same' : 'other';
		const verdicts: Verdict[] = [];
		if (result !== 'same') {
			const full = answerer.explain(query);
			for (const object of took) {
				if (selected.includes(object)) continue;
				const verdict = verdictOn(this.project, full, object);
				if (verdict) verdicts.push(verdict);
			}
		}
		return { ...base, result, status, selected, tied, verdicts, unknown };
	}
}

const names = (ids: readonly string[], naming: Naming): string => ids.map((id) => naming('object', id)).join(', ');

function ours({ status, selected, tied }: Compared, naming: Naming): string {
	if (status === 'tie') return `Frelk has a tie of ${names(tied, naming)}`;
	if (status === 'off') return 'in Frelk the query is off';
	if (status === 'waiting') return 'in Frelk the query waits';
	return selected.length === 0 ? 'Frelk selects nothing' : `Frelk selects ${names(selected, naming)}`;
}

/** `the game took Booth counter: 0.2 m behind Glass pane; Frelk selects Gangway crank`. */
export function wordsOfCompared(c: Compared, query: Query | undefined, naming: Naming = (_kind, id) => id): string {
	const took = c.got.length === 0 ? 'the game took nothing' : `the game took ${names(c.got, naming)}`;
	if (c.status === null) return `${took}; there is no query "${c.query}" here`;
	const strange = c.unknown.length > 0 ? ` (${c.unknown.join(', ')}: not in this project)` : '';
	if (c.result === 'same') return `${took}, as Frelk does`;
	const few = c.verdicts.slice(0, 4);
	const why = few
		.map((v) =>
			c.got.length === 1 && c.got[0] === v.object
				? wordsOfVerdict(v, naming, anyTagsOf(query))
				: `${naming('object', v.object)} ${wordsOfVerdict(v, naming, anyTagsOf(query))}`,
		)
		.join(', ');
	const order =
		c.got.length > 1 && c.verdicts.length === 0 && c.unknown.length === 0 && c.selected.length === c.got.length
			? ' in another order'
			: '';
	return `${took}${strange}${order}${why === '' ? '' : `: ${why}`}; ${ours(c, naming)}`;
}

/** By what differences are put together in a list: where what the game took falls here, or that it took nothing. */
export function reasonOfCompared(c: Compared): string {
	if (c.result === 'unknown') return 'unknown';
	const first = c.verdicts[0];
	if (first) return first.stage;
	if (c.status === 'off' || c.status === 'waiting') return c.status;
	return c.got.length === 0 ? 'nothing' : c.got.length < c.selected.length ? 'fewer' : 'order';
}
