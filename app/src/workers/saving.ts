/** Saving by a worker, to which only what is new of a project's text is sent. */
import type { Project } from '@frelk/core';
import { type Remote, wrap } from 'comlink';
import { saveProject } from '../data/projects';
import { changeOf, piecesOf } from '../data/text';
import type { Saver } from './saver';

/** Why a save came to nothing: its worker was ended in the middle of it. */
export class Ended extends Error {}

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
		try {
			this.worker = new Worker(new URL('./saver.ts', import.meta.url), { type: 'module', name: 'frelk-saver' });
		} catch (error) {
			this.giveUp(error);
			return;
		}
		this.worker.addEventListener('error', (event) => this.end(this.giveUp(event.message || 'the worker could not be started')));
		this.saver = wrap<Saver>(this.worker);
		this.sent = [];
	}

	/** @returns the version written. @throws Ended */
	async save(key: string, project: Project): Promise<number> {
		this.ready();
		if (!this.saver) return saveProject(key, project);
		const pieces = piecesOf(project);
		const ended = new Promise<never>((_, reject) => {
			this.end = reject;
		});
		const change = changeOf(this.sent, pieces);
		this.sent = pieces;
		try {
			return await Promise.race([this.saver.save(key, project.name, change), ended]);
		} catch (error) {
			if (error instanceof Ended) throw error;
			if (!this.alone) this.giveUp(error);
			return saveProject(key, project);
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
