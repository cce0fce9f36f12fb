/** Saving by a worker, to which only what is new of a project's text is sent. */
import { checkProject, type Project } from '@frelk/core';
import { type Remote, wrap } from 'comlink';
import { isFull, keepingNow, type Writing, type Written, writeText } from '../data/db';
import { headOf } from '../data/projects';
import { TAB } from '../data/tabs';
import { changeOf, piecesOf, textOf } from '../data/text';
import type { Saver } from './saver';

/** Why a save came to nothing: its worker was ended in the middle of it. */
export class Ended extends Error {}

/** A worker that has not written after so long never will, milliseconds: it was seen in one browser. */
const PATIENCE = 20_000;

export class Saving {
	private worker: Worker | null = null;
	private saver: Remote<Saver> | null = null;
	private sent: readonly string[] = [];
	private end: (why: Error) => void = () => {};
	/** Where a worker cannot be had the page saves by itself. */
	private alone = false;

	/** Starts the worker, which takes a while, so that it is there when the first save comes. */
	ready(): void {
		if (this.saver || this.alone) return;
		if (!keepingNow().kept) {
			// What only the page remembers no worker can write to.
			this.alone = true;
			return;
		}
		try {
			this.worker = new Worker(new URL('./saver.ts', import.meta.url), { type: 'module', name: 'frelk-saver' });
		} catch (error) {
			this.giveUp(error);
			return;
		}
		this.worker.addEventListener('error', (event) =>
			this.end(this.giveUp(event.message || 'the worker could not be started')),
		);
		this.saver = wrap<Saver>(this.worker);
		this.sent = [];
	}

	/**
	 * Writes a project if nobody else did since the version `seen`.
	 * @param unsure whether it is to be seen first that a file may hold it: while the hand moves nobody has looked
	 * @throws Ended, or what the store says where it cannot be written
	 */
	async save(key: string, project: Project, seen: number | null, unsure = false): Promise<Written> {
		this.ready();
		const writing: Omit<Writing, 'text'> = { key, head: headOf(project), seen, by: TAB };
		const here = async (): Promise<Written> =>
			unsure && !checkProject(project).ok ? { done: 'unfit' } : writeText({ ...writing, text: textOf(project) });
		if (!this.saver) return here();
		const pieces = piecesOf(project);
		const ended = new Promise<never>((_, reject) => {
			this.end = reject;
		});
		const change = changeOf(this.sent, pieces);
		this.sent = pieces;
		const overdue = setTimeout(() => this.end(this.giveUp('the worker did not answer')), PATIENCE);
		try {
			return await Promise.race([this.saver.save(writing, change, unsure), ended]);
		} catch (error) {
			// That there is no room is no fault of the worker's.
			if (error instanceof Ended || isFull(error)) throw error;
			if (!this.alone) this.giveUp(error);
			return here();
		} finally {
			clearTimeout(overdue);
		}
	}

	private giveUp(why: unknown): Error {
		console.error('saving by a worker failed; the page saves by itself', why);
		this.alone = true;
		this.worker?.terminate();
		this.worker = null;
		this.saver = null;
		return why instanceof Error ? why : new Error(String(why));
	}

	/** Ends the worker, in whatever it is. */
	stop(): void {
		this.worker?.terminate();
		this.worker = null;
		this.saver = null;
		this.end(new Ended('the worker was ended'));
	}
}
