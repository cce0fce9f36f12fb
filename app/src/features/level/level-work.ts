/**
 * The worker that holds a level: read once, laid as often as rules change, and given up for a fresh one where a laying takes so long that
 * nobody would wait for it.
 */
import type { NamingRules } from '@frelk/interchange';
import type { LevelMade, LevelShown } from '../../workers/level';

/** The level as the worker has it. */
export interface LevelHands {
	read: (files: readonly File[], progress: (what: string, done: number) => void) => Promise<LevelShown>;
	lay: (project: string, rules: NamingRules) => Promise<LevelMade>;
	compare: (
		at: number,
		rules: NamingRules,
	) => Promise<{ gap: number | null; edges: number[]; vertices: number[] } | null>;
	end: () => void;
}

/** After so long a laying that is no longer wanted is not waited for, milliseconds. */
const LONG = 1500;

/** What a laying ends with that was given up. */
export class GivenUp extends Error {}

export class LevelWork {
	private hands: LevelHands;
	private reading: Promise<LevelShown>;
	/** The laying under way: since when, and what ends it. */
	private laying: { since: number; giveUp: () => void } | null = null;
	/** Waits for the laying under way; only the last one that came is kept. */
	private next: { begin: () => void; giveUp: () => void } | null = null;
	private timer: ReturnType<typeof setTimeout> | undefined;
	private ended = false;

	/**
	 * @param hire a fresh worker
	 * @param progress of reading
	 */
	constructor(
		private readonly hire: () => LevelHands,
		private readonly files: readonly File[],
		private readonly progress: (what: string, done: number) => void,
	) {
		this.hands = hire();
		this.reading = this.hands.read(files, progress);
	}

	/** What the files are. @throws with the place where one is not what it says */
	get shown(): Promise<LevelShown> {
		return this.reading;
	}

	/** Lays the level over a project by rules; one at a time, and of those that wait only the last. @throws GivenUp where another took its place */
	lay(project: string, rules: NamingRules): Promise<LevelMade> {
		return new Promise((resolve, reject) => {
			const giveUp = () => reject(new GivenUp('another took its place'));
			const begin = () => {
				const { hands } = this;
				const own = { since: Date.now(), giveUp };
				this.laying = own;
				const over = (tell: () => void) => {
					// Of a worker that was let go nothing is heard.
					if (this.hands !== hands) return;
					if (this.laying === own) this.laying = null;
					tell();
					this.begin();
				};
				this.reading
					.then(() => hands.lay(project, rules))
					.then(
						(made) => over(() => resolve(made)),
						(error) => over(() => reject(error)),
					);
			};
			this.next?.giveUp();
			this.next = { begin, giveUp };
			if (!this.laying) return this.begin();
			clearTimeout(this.timer);
			this.timer = setTimeout(() => this.restart(), Math.max(0, this.laying.since + LONG - Date.now()));
		});
	}

	compare(at: number, rules: NamingRules): ReturnType<LevelHands['compare']> {
		return this.laying ? Promise.resolve(null) : this.hands.compare(at, rules);
	}

	/** Lets go of the laying under way and of what waits for it. */
	stop(): void {
		this.next?.giveUp();
		this.next = null;
		this.restart();
	}

	/** Lets go of everything. */
	end(): void {
		this.ended = true;
		clearTimeout(this.timer);
		this.next?.giveUp();
		this.laying?.giveUp();
		this.hands.end();
	}

	private begin(): void {
		const { next } = this;
		this.next = null;
		clearTimeout(this.timer);
		if (!this.ended) next?.begin();
	}

	/** A fresh worker in place of one that is at a laying. */
	private restart(): void {
		if (!this.laying || this.ended) return;
		this.hands.end();
		this.laying.giveUp();
		this.laying = null;
		this.hands = this.hire();
		this.reading = this.hands.read(this.files, this.progress);
		this.begin();
	}
}
