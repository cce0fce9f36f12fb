/** Answers, verdicts and notes, as they are printed. */
import type { Condition, QueryKind, RuleName, Stance, StateValue } from '../project/schema';

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
export type Stage = (typeof STAGES)[number];

export interface Selected {
	/** The object answered for. */
	object: string;
	/** The stand-in that answered, or null. */
	through: string | null;
	shape: string | null;
	distance: number;
	point: [number, number, number];
	normal: [number, number, number] | null;
	assisted: boolean;
	action: string | null;
	prompt: string | null;
	/** Index of the hitbox's box, or null. */
	box: number | null;
}

export interface Verdict {
	object: string;
	stage: Stage;
	/** How far it failed by: metres, degrees, pixels or the rule's unit; absent where there is no such figure. */
	margin?: number;
	/** Of a path that missed: how far past its end it would have touched, metres; absent where it never would. */
	beyond?: number;
	layers?: string[];
	missing?: string[];
	forbidden?: string[];
	stance?: Stance;
	condition?: Condition;
	value?: StateValue | null;
	role?: 'solid' | 'sensor';
	by?: string;
	rule?: RuleName | 'stands-for';
}

export type Note =
	| { code: 'starts-inside'; object: string }
	| { code: 'disabled' }
	| { code: 'condition'; of: 'asker' | 'scene'; state: string }
	| { code: 'waiting'; on: string }
	| { code: 'zero-direction' }
	| { code: 'contested'; object: string; by: string };

export interface Answer {
	query: string;
	status: Status;
	selected: Selected[];
	tied: string[];
	notes: Note[];
	verdicts: Verdict[];
}

/** Kinds whose touch follows a line from a start. */
export const isPath = (kind: QueryKind): boolean => kind === 'ray' || kind === 'pick' || kind === 'sweep';
