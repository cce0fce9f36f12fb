/** A change that may help, the case it is for, and what all kinds of change share. */
import { rounded } from '../project/rounding';
import type { Project, Query } from '../project/schema';
import type { Answer, Verdict } from '../query/types';
import type { Naming } from '../query/words';
import type { World, WorldObject } from '../world/world';
import type { Recipe } from './change';

/** A change that may help. */
export interface Candidate {
	kind: string;
	words: string;
	recipe: Recipe;
	size: number;
	unit: string;
	/** What it looks like: the mistake itself (a left-over, a value all others of its kind have otherwise), or what merely works. */
	looks?: 'mistake' | 'works';
	/** What is changed, of one that is tried again with a little more where it is not enough; undefined for a change that is made or not. */
	of?: string;
}

/** What a remedy is looked for: the query in its world, who is meant, and when it is well. */
export interface Case {
	project: Project;
	moment: string | null;
	world: World;
	query: Query;
	/** The object answered for, and the one whose verdict counts (itself, or the stand-in that came furthest). */
	target: WorldObject;
	subject: WorldObject;
	verdict: Verdict | null;
	answer: Answer;
	wish: 'select' | 'leave';
	naming: Naming;
	/** Whether a query answers as is wished in a world, or comes as much nearer to it as is looked for. */
	isWell: (world: World, query: Query) => boolean;
}

/** @returns the next readable number that is not less */
export const outward = (value: number, step: number): number => rounded(Math.ceil(value / step - 1e-9) * step, 6);

/** A change that is one edit, of no size. */
export const plain = (kind: string, words: string, recipe: Recipe): Candidate => ({
	kind,
	words,
	recipe,
	size: 1,
	unit: 'edit',
});

/** The same candidate, marked as what looks like the mistake itself, or what merely works. */
export const looking = (looks: Candidate['looks'] | null | false, candidate: Candidate): Candidate =>
	looks ? { ...candidate, looks } : candidate;

/** Recipes for the same wish with a little more, where "just enough" lies on the edge. */
export const steps = (value: number, step: number): number[] => [outward(value, step), outward(value + step, step)];

/** The layers an object is on: its own, and those of its shapes. */
export const layersOf = ({ def }: WorldObject): string[] => [
	...new Set([def.layer, ...(def.shapes ?? []).filter((s) => s.enabled !== false).map((s) => s.layer ?? def.layer)]),
];

/** Whether a query that differs a little is well in the same world. */
export const wellWith = ({ world, isWell }: Case, query: Query): boolean => isWell(world, query);
