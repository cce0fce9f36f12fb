/** Every query at every moment in short: what a board shows where no check says what it should be, and what two versions differ in. */
import type { Project } from '../project/schema';
import { Answerer } from '../query/answer';
import type { Answer, Status } from '../query/types';
import { buildWorld } from '../world/world';

/** An answer in short: enough to compare, and to show in a cell of a table. */
export interface QuickAnswer {
	query: string;
	moment: string | null;
	status: Status;
	/** Answered-for ids: of the selection, or of those tied. */
	objects: string[];
	action: string | null;
}

/** An answer in short. @param moment the one it was asked at, or null for the scene as laid out */
export const quickAnswer = (answer: Answer, moment: string | null): QuickAnswer => ({
	query: answer.query,
	moment,
	status: answer.status,
	objects: answer.status === 'tie' ? answer.tied : answer.selected.map((s) => s.object),
	action: answer.selected[0]?.action ?? null,
});

/** @returns all answers, moment by moment, the scene as laid out first */
export function answersAt(project: Project, progress: (done: number) => void = () => {}): QuickAnswer[] {
	const list: QuickAnswer[] = [];
	for (const moment of [null, ...(project.moments ?? []).map((m) => m.id)]) {
		const world = buildWorld(project, moment);
		const answerer = new Answerer(world);
		for (const query of world.queries) {
			list.push(quickAnswer(answerer.winner(query), moment));
			progress(list.length);
		}
	}
	return list;
}

/** One query at one moment that two versions of a project answer differently. */
export interface AnswerChange {
	query: string;
	moment: string | null;
	/** Null where the query or moment was not there. */
	before: QuickAnswer | null;
	after: QuickAnswer | null;
}

/** What two versions of a project answer differently. */
export function changesBetween(before: readonly QuickAnswer[], after: readonly QuickAnswer[]): AnswerChange[] {
	const key = (a: QuickAnswer) => `${a.moment ?? ''} ${a.query}`;
	const was = new Map(before.map((a) => [key(a), a]));
	const is = new Map(after.map((a) => [key(a), a]));
	const changes: AnswerChange[] = [];
	for (const k of new Set([...was.keys(), ...is.keys()])) {
		const [a, b] = [was.get(k) ?? null, is.get(k) ?? null];
		const one = a ?? b;
		if (
			one &&
			(!a || !b || a.status !== b.status || a.action !== b.action || a.objects.join(' ') !== b.objects.join(' '))
		)
			changes.push({ query: one.query, moment: one.moment, before: a, after: b });
	}
	return changes;
}
