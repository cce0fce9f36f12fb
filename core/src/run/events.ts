/** What happens in a run, in the order in which it happens (contract §12.4 to §12.7). */
import type { Press, RuleName } from '../project/schema';
import type { Stage } from '../query/types';

/** Why what was chosen before is not any more: its own verdict at this step, or that of the stand-in it was chosen through. */
export interface Instead {
	object: string;
	through: string | null;
	stage: Stage;
	by: string | null;
	margin: number | null;
	/** Of an outranked one the rule; not part of the printed event. */
	rule?: RuleName | 'stands-for';
}

interface At {
	/** The step, from 0. */
	k: number;
	/** Seconds. */
	t: number;
}

/** Something that happened: at a step, or, missed, between two. */
export type RunEvent =
	| (At & { kind: 'leave' | 'enter' | 'lose' | 'gain'; watch: string; object: string })
	| (At & { kind: 'choose'; watch: string; selected: string[]; tied: string[]; instead: Instead | null })
	| (At & { kind: 'hit'; swing: number; object: string; through: string | null; box: number })
	| (At & { kind: 'undecided'; swing: number; tied: string[] })
	| (At & { kind: 'press'; watch: string; press?: number; objects: string[] })
	/** A press was held long enough: what its action does is done. */
	| (At & { kind: 'held'; watch: string; press: number; objects: string[] })
	/** What is held is another: the press has come to nothing, after so many seconds. */
	| (At & { kind: 'broken'; watch: string; press: number; objects: string[]; lasted: number; instead: Instead | null })
	/** A lock was taken, let go or moved on: what it held, and what it holds from the next step on. */
	| (At & {
			kind: 'lock';
			watch: string;
			press: number;
			do: NonNullable<Press['do']>;
			from: string | null;
			to: string | null;
	  })
	| (At & { kind: 'refused'; action: string; line: number; why: 'no-asker' | 'cycle' })
	| (At & { kind: 'refused'; object: string; why: 'cycle' })
	| { kind: 'missed'; watch: string; object: string; after: number; t: number }
	| { kind: 'missed'; swing: number; object: string; after: number; t: number };

/** Figures of a watch entry over a run. */
export interface WatchFigures {
	id: string;
	/** Changes of choice after the first step. */
	changes: number;
	/** Shortest time something was held, seconds; null where nothing held was ever let go. */
	shortest: number | null;
	/** Time in a tie, seconds. */
	tied: number;
	/** Of an entry with a memory, or one that is late: steps at which it holds something else than the answer; null for any other. */
	unlike: number | null;
	/** In runs with presses that are held: how many were held long enough, broke off, and were not over at the end. */
	held?: number;
	broken?: number;
	unfinished?: number;
}

/** Figures of a swing over a run: how many events of each kind. */
export interface SwingFigures {
	hits: number;
	undecided: number;
	missed: number;
}

/** A run-through as it went. */
export interface RunResult {
	run: string;
	/** How many steps there were. */
	steps: number;
	events: RunEvent[];
	watch: WatchFigures[];
	swings: SwingFigures[];
}
