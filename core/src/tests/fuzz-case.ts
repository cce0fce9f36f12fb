/** One case of the fuzzer by its seed. */
import { judge } from './judge';
import { type Json, mutatedText, mutatedTree, pulled } from './mutate';
import { randomProject } from './project';
import { dice } from './random';

export interface Found {
	seed: number;
	text: string;
	wrong: string;
}

/** A case that takes longer hangs, as far as a user can tell; milliseconds. */
export const SLOW = 2000;

export function isSlow(text: string): boolean {
	const before = performance.now();
	judge(text);
	return performance.now() - before > SLOW;
}

declare const performance: { now(): number };

/**
 * @param examples texts of valid projects
 * @returns the same text for the same seed and examples
 */
export function caseOf(seed: number, examples: readonly string[]): string {
	const d = dice(seed * 2 + 1);
	const tree = (): Json =>
		d.chance(0.5) && examples.length > 0
			? (JSON.parse(d.of(examples)) as Json)
			: (randomProject(d.whole(1, 1e6)) as unknown as Json);
	switch (d.whole(0, 9)) {
		case 0:
			return mutatedText(d, examples.length > 0 ? d.of(examples) : JSON.stringify(tree()));
		case 1:
		case 2:
		case 3:
			return JSON.stringify(pulled(d, tree()));
		case 4:
			return mutatedTree(d, pulled(d, tree()));
		default:
			return mutatedTree(d, tree());
	}
}
