/** Places in the text of a project file: from an offset to the path of what stands there, and back. Texts with errors have them too. */
import type { JsonPath } from '@frelk/core/editing';
import {
	findNodeAtLocation,
	findNodeAtOffset,
	getNodePath,
	getNodeValue,
	type Node,
	type ParseError,
	parseTree,
} from 'jsonc-parser';

/** From and to, offsets in the text. */
export type Span = readonly [from: number, to: number];

/** One state of a file's text, gone through once. */
export class Places {
	readonly root: Node | undefined;
	/** Where the text is no JSON. */
	readonly errors: readonly ParseError[];
	private known: unknown;
	private asked = false;

	constructor(readonly text: string) {
		const errors: ParseError[] = [];
		this.root = parseTree(text, errors, { disallowComments: true });
		this.errors = errors;
	}

	/** What the text holds, as far as it can be read. */
	get value(): unknown {
		if (!this.asked) this.known = this.root && getNodeValue(this.root);
		this.asked = true;
		return this.known;
	}

	/** @returns what stands at an offset, innermost: a value, or a key */
	at(offset: number): { node: Node; path: JsonPath; isKey: boolean } | null {
		const node = this.root && findNodeAtOffset(this.root, offset, true);
		if (!node) return null;
		const isKey = node.parent?.type === 'property' && node.parent.children?.[0] === node;
		return { node, path: getNodePath(node) as JsonPath, isKey };
	}

	/** @returns where a value stands; where there is none the nearest that holds it */
	spanOf(path: JsonPath): Span {
		for (let n = path.length; n >= 0; n--) {
			const node = this.root && findNodeAtLocation(this.root, path.slice(0, n) as never);
			if (node) return [node.offset, node.offset + node.length];
		}
		return [0, Math.min(1, this.text.length)];
	}

	/** Where the key of a value stands, for references that are keys. */
	keySpan(path: JsonPath): Span | null {
		const node = this.root && findNodeAtLocation(this.root, path as never);
		const key = node?.parent?.type === 'property' ? node.parent.children?.[0] : undefined;
		return key ? [key.offset + 1, key.offset + key.length - 1] : null;
	}

	/** Where the characters of an id stand, its quotes left out. */
	idSpan(path: JsonPath): Span | null {
		const node = this.root && findNodeAtLocation(this.root, path as never);
		return node?.type === 'string' ? [node.offset + 1, node.offset + node.length - 1] : null;
	}
}

const QUOTE = 0x22;
const BACKSLASH = 0x5c;
const opens = (code: number): boolean => code === 0x7b || code === 0x5b;
const closes = (code: number): boolean => code === 0x7d || code === 0x5d;
/** Blanks, commas and colons: what stands between values; and the mark some editors put before a text. */
const between = (code: number): boolean => code <= 0x20 || code === 0x2c || code === 0x3a || code === 0xfeff;

/** Walks JSON without building it: to where a value stands, in the time its text takes to be read over. Texts that are no JSON may give anything. */
class Skipping {
	constructor(
		private readonly text: string,
		public at: number,
	) {}

	/** The character that stands next, or NaN at the end. */
	next(): number {
		return this.text.charCodeAt(this.at);
	}

	space(): void {
		while (between(this.next())) this.at++;
	}

	/** Over a string, from its first quote to behind its last. */
	string(): string {
		const from = this.at++;
		for (;;) {
			const end = this.text.indexOf('"', this.at);
			if (end < 0) {
				this.at = this.text.length;
				return '';
			}
			let slashes = 0;
			while (this.text.charCodeAt(end - 1 - slashes) === BACKSLASH) slashes++;
			this.at = end + 1;
			if (slashes % 2 === 0) return this.text.slice(from, this.at);
		}
	}

	value(): void {
		let depth = 0;
		do {
			this.space();
			const code = this.next();
			if (Number.isNaN(code)) return;
			if (code === QUOTE) this.string();
			else if (opens(code) || closes(code)) {
				depth += opens(code) ? 1 : -1;
				this.at++;
			} else this.word();
		} while (depth > 0);
	}

	/** Over a number, true, false or null, or whatever stands in their place. */
	private word(): void {
		do this.at++;
		while (!(Number.isNaN(this.next()) || between(this.next()) || closes(this.next())));
	}

	/** @returns whether a value stands next, and not the end of what holds it */
	more(): boolean {
		this.space();
		return this.at < this.text.length && !closes(this.next());
	}
}

/**
 * Where members of an object, or entries of a list, stand in the text: faster by far than to go through all of it as `Places` does.
 * @param from where the object or the list stands
 * @param wanted called with the key of a member (of a list: of an entry none) and its span
 */
function walkParts(text: string, from: number, wanted: (key: string | null, span: Span) => void): void {
	const walk = new Skipping(text, from);
	walk.space();
	const isObject = walk.next() === 0x7b;
	if (!opens(walk.next())) return;
	walk.at++;
	while (walk.more()) {
		let key: string | null = null;
		if (isObject) {
			if (walk.next() !== QUOTE) return;
			key = textIn(walk.string());
			walk.space();
		}
		const begin = walk.at;
		walk.value();
		if (walk.at === begin) return;
		wanted(key, [begin, walk.at]);
	}
}

/** @returns where the member of an object stands, of several of that key the last, which counts; null where there is none */
export function memberSpan(text: string, from: number, key: string): Span | null {
	let found: Span | null = null;
	walkParts(text, from, (name, span) => {
		if (name === key) found = span;
	});
	return found;
}

/** The entries of a list of the project: their ids, where these stand, and where the entries begin. */
export function entriesOf(text: string, list: string): { id: string; span: Span; at: number }[] {
	const entries: { id: string; span: Span; at: number }[] = [];
	const from = memberSpan(text, 0, list);
	if (from)
		walkParts(text, from[0], (_, [at]) => {
			const span = memberSpan(text, at, 'id');
			if (span) entries.push({ id: textIn(text.slice(...span)), span, at });
		});
	return entries;
}

/** The text that is written as JSON; empty where it is none. */
function textIn(json: string): string {
	if (!json.includes('\\')) return json.slice(1, -1);
	try {
		return String(JSON.parse(json));
	} catch {
		return '';
	}
}

/** @returns where a place of one text lies in another that differs from it in one stretch: within it, at its edges */
export function movedSpan([from, to]: Span, stretch: { span: Span; text: string }): Span {
	const [begin, end] = stretch.span;
	const by = begin + stretch.text.length - end;
	const moved = (offset: number, isEnd: boolean) =>
		offset <= begin ? offset : offset >= end ? offset + by : isEnd ? end + by : begin;
	return [moved(from, false), moved(to, true)];
}

/** The one stretch in which two texts differ. */
export function editBetween(before: string, after: string): { span: Span; text: string } {
	const least = Math.min(before.length, after.length);
	let from = 0;
	while (from < least && before.charCodeAt(from) === after.charCodeAt(from)) from++;
	let end = 0;
	while (end < least - from && before.charCodeAt(before.length - 1 - end) === after.charCodeAt(after.length - 1 - end))
		end++;
	return { span: [from, before.length - end], text: after.slice(from, after.length - end) };
}
