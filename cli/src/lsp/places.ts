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
