/**
 * Globs of naming rules, matched without going back: all ways through a pattern are followed side by side, so that a name costs its
 * length times the pattern's, whatever the pattern says (Thompson's construction).
 */

/** What one step of a pattern takes. */
type Step =
	| { takes: 'one'; is: (char: string) => boolean; next: number }
	| { takes: 'nothing'; next: number[] }
	| { takes: 'end' };

const SLASH = '/';

/** A class between brackets, from after the opening one; null where it does not end: it is a plain bracket then. */
function classAt(pattern: readonly string[], from: number): { is: (char: string) => boolean; after: number } | null {
	let at = from;
	const not = pattern[at] === '!' || pattern[at] === '^';
	if (not) at++;
	const singles = new Set<string>();
	const ranges: [string, string][] = [];
	for (let first = true; at < pattern.length; first = false) {
		if (pattern[at] === ']' && !first) {
			const has = (c: string) => singles.has(c) || ranges.some(([low, high]) => c >= low && c <= high);
			return { is: not ? (c) => c !== SLASH && !has(c) : has, after: at + 1 };
		}
		const low = pattern[at] as string;
		const high = pattern[at + 2];
		if (pattern[at + 1] === '-' && high !== undefined && high !== ']') {
			ranges.push([low, high]);
			at += 3;
		} else {
			singles.add(low);
			at++;
		}
	}
	return null;
}

/** Where alternatives between braces are cut and end; null where they do not end, or there is but one. */
function bracesAt(pattern: readonly string[], from: number): { parts: [number, number][]; after: number } | null {
	const parts: [number, number][] = [];
	let depth = 0;
	let begin = from;
	for (let at = from; at < pattern.length; at++) {
		const c = pattern[at];
		if (c === '\\') at++;
		else if (c === '{') depth++;
		else if (c === '}' && depth > 0) depth--;
		else if (depth === 0 && (c === ',' || c === '}')) {
			parts.push([begin, at]);
			begin = at + 1;
			if (c === '}') return parts.length > 1 ? { parts, after: at + 1 } : null;
		}
	}
	return null;
}

class Builder {
	readonly steps: Step[] = [{ takes: 'end' }];

	constructor(
		private readonly pattern: readonly string[],
		/** Whether "*" stays within one name of a path. */
		private readonly path: boolean,
	) {}

	add(step: Step): number {
		return this.steps.push(step) - 1;
	}

	/** A step that takes any number of what `is` says, and goes on. */
	private any(is: (char: string) => boolean, next: number): number {
		const loop = this.add({ takes: 'nothing', next: [next] });
		const one = this.add({ takes: 'one', is, next: loop });
		(this.steps[loop] as { next: number[] }).next.push(one);
		return loop;
	}

	private literal(char: string, next: number): number {
		return this.add({ takes: 'one', is: (c) => c === char, next });
	}

	/** @returns the first step of a stretch of the pattern that goes on to `next` */
	part(from: number, to: number, next: number): number {
		const pieces: ((next: number) => number)[] = [];
		for (let at = from; at < to; ) {
			const c = this.pattern[at] as string;
			if (c === '\\' && at + 1 < to) {
				const escaped = this.pattern[at + 1] as string;
				pieces.push((n) => this.literal(escaped, n));
				at += 2;
			} else if (c === '*') {
				let after = at;
				while (after < to && this.pattern[after] === '*') after++;
				at = this.stars(at, after, from, to, pieces);
			} else if (c === '?') {
				const { path } = this;
				pieces.push((n) => this.add({ takes: 'one', is: (x) => !path || x !== SLASH, next: n }));
				at++;
			} else {
				const found = c === '[' ? classAt(this.pattern.slice(0, to), at + 1) : null;
				const braces = c === '{' ? bracesAt(this.pattern.slice(0, to), at + 1) : null;
				if (found) {
					pieces.push((n) => this.add({ takes: 'one', is: found.is, next: n }));
					at = found.after;
				} else if (braces) {
					pieces.push((n) =>
						this.add({ takes: 'nothing', next: braces.parts.map(([low, high]) => this.part(low, high, n)) }),
					);
					at = braces.after;
				} else {
					pieces.push((n) => this.literal(c, n));
					at++;
				}
			}
		}
		let first = next;
		for (const piece of pieces.reverse()) first = piece(first);
		return first;
	}

	/** Stars from `at` up to `after`. @returns where the pattern goes on */
	private stars(at: number, after: number, from: number, to: number, pieces: ((next: number) => number)[]): number {
		const begins = at === from || this.pattern[at - 1] === SLASH;
		const ends = after === to || this.pattern[after] === SLASH;
		if (!this.path) pieces.push((n) => this.any(() => true, n));
		else if (after - at < 2 || !begins || !ends) pieces.push((n) => this.any((c) => c !== SLASH, n));
		else if (after < to) {
			// "**/": any number of names, each with its stroke.
			pieces.push((n) => {
				const skip = this.add({ takes: 'nothing', next: [n] });
				const stroke = this.literal(SLASH, n);
				(this.steps[skip] as { next: number[] }).next.push(this.any(() => true, stroke));
				return skip;
			});
			return after + 1;
		} else if (at > from) {
			// "/**" at the end: what lies under, and the name itself; the stroke was taken as a piece of its own.
			pieces.pop();
			pieces.push((n) => {
				const stroke = this.literal(
					SLASH,
					this.any(() => true, n),
				);
				return this.add({ takes: 'nothing', next: [n, stroke] });
			});
		} else pieces.push((n) => this.any(() => true, n));
		return after;
	}
}

/**
 * @param pattern with `*` (any signs; in a path within one name), `**` (through names of a path), `?`, `[ab]`, `[!a-z]`, `{a,b}` and `\` before a
 *   sign that means itself
 * @param path whether "/" is between names, and not a sign as any other
 * @returns whether a text is as the pattern says, in time of its length
 */
export function globMatcher(pattern: string, path: boolean): (text: string) => boolean {
	const signs = [...pattern];
	const builder = new Builder(signs, path);
	const first = builder.part(0, signs.length, 0);
	const { steps } = builder;
	/** In which turn a step was last reached: none is followed twice in one. */
	const reached = new Int32Array(steps.length).fill(-1);
	const stack: number[] = [];
	let turn = 0;
	const follow = (from: number, into: number[]) => {
		stack.push(from);
		for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
			if (reached[at] === turn) continue;
			reached[at] = turn;
			const step = steps[at] as Step;
			if (step.takes === 'nothing') stack.push(...step.next);
			else into.push(at);
		}
	};
	return (text) => {
		let now: number[] = [];
		reached.fill(-1);
		turn = 0;
		follow(first, now);
		for (const char of text) {
			const next: number[] = [];
			turn++;
			for (const at of now) {
				const step = steps[at] as Step;
				if (step.takes === 'one' && step.is(char)) follow(step.next, next);
			}
			if (next.length === 0) return false;
			now = next;
		}
		return now.includes(0);
	};
}
