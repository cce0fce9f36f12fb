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

	/** @returns the version written. @throws Ended */
	async save(key: string, project: Project): Promise<number> {
		if (this.alone) return saveProject(key, project);
		const saver = this.saver ?? this.hire();
		const pieces = piecesOf(project);
		const ended = new Promise<never>((_, reject) => {
			this.end = reject;
		});
		const change = changeOf(this.sent, pieces);
		this.sent = pieces;
		try {
			return await Promise.race([saver.save(key, project.name, change), ended]);
		} catch (error) {
			if (error instanceof Ended) throw error;
			console.error('saving by a worker failed', error);
			this.alone = true;
			this.stop();
			return saveProject(key, project);
		}
	}

	private hire(): Remote<Saver> {
		this.worker = new Worker(new URL('./saver.ts', import.meta.url), { type: 'module', name: 'frelk-saver' });
		this.worker.addEventListener('error', (event) => this.end(new Error(event.message || 'the worker could not be started')));
		this.saver = wrap<Saver>(this.worker);
		this.sent = [];
		return this.saver;
	}

	/** Ends the worker, in whatever it is. */
	stop(): void {
		this.worker?.terminate();
		this.worker = null;
		this.saver = null;
		this.end(new Ended('the worker was ended'));
	}
}
