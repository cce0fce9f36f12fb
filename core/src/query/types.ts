/** Answers, verdicts and notes, as they are printed. */
import type { Condition, QueryKind, RuleName, Stance, StateValue, Vec3 } from '../project/schema';

/** What came of a query: something selected, nothing, a tie, or it was off or had to wait. */
export type Status = 'selected' | 'none' | 'tie' | 'off' | 'waiting';

/** The stages in the order in which they are tested. */
export const STAGES = [
	'inactive',
	'excluded',
	'layer',
	'tags',
	'side',
	'state',
	'role',
	'touch',
	'range',
	'view',
	'approach',
	'sight',
	'choice',
	'tied',
	'selected',
] as const;
/** The stage at which an object fell, or `tied` or `selected`. */
export type Stage = (typeof STAGES)[number];

/** One of those selected. Distances and points in metres, in world axes; the normal is a unit vector facing the start. */
export interface Selected {
	/** The object answered for. */
	object: string;
	/** The stand-in that answered, or null. */
	through: string | null;
	shape: string | null;
	distance: number;
	point: Vec3;
	normal: Vec3 | null;
	assisted: boolean;
	action: string | null;
	prompt: string | null;
	/** Index of the hitbox's box, or null. */
	box: number | null;
	/** Of an arc: seconds of flight until the contact. */
	time?: number;
	/** Where sight goes to marks: how many of them are seen, and how many there are. */
	seen?: number;
	of?: number;
	/** Of a question of room: the length of the shortest move that frees the volume of it, metres. */
	depth?: number;
}

/** How one object fared: the stage at which it fell, and by how much. Which fields there are hangs on the stage. */
export interface Verdict {
	object: string;
	stage: Stage;
	/** How far it failed by: metres, degrees, pixels or the rule's unit; absent where there is no such figure. */
	margin?: number;
	/** Of a path that missed: how far past its end it would have touched, metres; absent where it never would. */
	beyond?: number;
	/** Of one that a filter left out: where the query touches it all the same, asked for with all its shapes; metres, as its contact's distance. */
	met?: number;
	layers?: string[];
	missing?: string[];
	forbidden?: string[];
	stance?: Stance;
	condition?: Condition;
	value?: StateValue | null;
	role?: 'solid' | 'sensor';
	by?: string;
	rule?: RuleName | 'stands-for';
	/** Where sight goes to marks, from `sight` on: how many of them are seen, and how many there are. */
	seen?: number;
	of?: number;
	/** The marks that are blocked, in the object's order; null for its focus. */
	marks?: (string | null)[];
}

/** What a player could not see in the answer: why it is off or waits, what was skipped, what was as near as its blocker. */
export type Note =
	| { code: 'starts-inside'; object: string }
	| { code: 'disabled' }
	| { code: 'condition'; of: 'asker' | 'scene'; state: string }
	| { code: 'waiting'; on: string }
	| { code: 'zero-direction' }
	/** No throw of this speed comes there; `speed` is the least that does, m/s. */
	| { code: 'out-of-reach'; on: 'arc'; speed: number }
	| { code: 'contested'; object: string; by: string };

/**
 * The answer of one query at one moment. Lists are in the order of choice; `verdicts` in file order, empty where they were not asked for.
 */
export interface Answer {
	query: string;
	status: Status;
	selected: Selected[];
	tied: string[];
	notes: Note[];
	verdicts: Verdict[];
	/** Of a question of room: whether nothing is in the way, and at how many of its points the volume is borne. */
	room?: { free: boolean; bears?: number; of?: number };
}

/** Kinds whose touch follows a line from a start. */
export const isPath = (kind: QueryKind): boolean => kind === 'ray' || kind === 'pick' || kind === 'sweep';
