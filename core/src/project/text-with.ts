/**
 * The text of a file with other values in it: every character that says what it said stays where it was, so that an edit of one field is
 * an edit of one line whoever wrote the file.
 */
import { type Node, parseTree } from 'jsonc-parser';
import { keyOf } from './collections';
import { deepEqual } from './merge';
import { writeBlock } from './write';

type Tree = { [key: string]: unknown };
const isTree = (value: unknown): value is Tree => typeof value === 'object' && value !== null && !Array.isArray(value);

/** What was empty and is shorter than this now stays on its line. */
const SHORT = 80;

/** A child of an object or a list: what stands before it, and its own text, in an object with its key. */
interface Item {
	/** Its place among the children that are there; null for one that is new. */
	from: number | null;
	text: string;
}

class Writer {
	private readonly end: string;
	/** A file on one line stays on one. */
	private readonly flat: boolean;

	constructor(private readonly text: string) {
		this.end = /\r?\n/.exec(text)?.[0] ?? '\n';
		this.flat = !/\n./.test(text.trimEnd());
	}

	private slice(from: number, to: number): string {
		return this.text.slice(from, to);
	}

	/** @param name of the list it is, if it is one: what tells its entries apart */
	render(node: Node, value: unknown, target: unknown, name: string | undefined): string {
		const { offset, length } = node;
		if (deepEqual(value, target)) return this.slice(offset, offset + length);
		if (node.type === 'object' && isTree(value) && isTree(target)) return this.object(node, value, target);
		if (node.type === 'array' && Array.isArray(value) && Array.isArray(target)) {
			const list = this.list(node, value, target, name);
			if (list !== null) return list;
		}
		return this.fresh(target, this.indentAt(offset));
	}

	/** White space that the line of a place begins with. */
	private indentAt(offset: number): string {
		const line = this.text.lastIndexOf('\n', offset) + 1;
		return /^[ \t]*/.exec(this.slice(line, offset))?.[0] ?? '';
	}

	private fresh(value: unknown, indent: string): string {
		return this.flat ? JSON.stringify(value) : writeBlock(value, indent, this.end);
	}

	private object(node: Node, value: Tree, target: Tree): string {
		const properties = node.children ?? [];
		// Of a key given twice the last counts, as `JSON.parse` has it: the others stay as they are.
		const last = new Map(properties.map((p) => [p.children?.[0]?.value as string, p]));
		const items: Item[] = [];
		const written = new Set<string>();
		properties.forEach((property, i) => {
			const [key, held] = property.children ?? [];
			const name = key?.value as string;
			if (!key || !held || target[name] === undefined) return;
			written.add(name);
			const own = last.get(name) === property;
			const text = own
				? this.slice(property.offset, held.offset) + this.render(held, value[name], target[name], name)
				: this.slice(property.offset, property.offset + property.length);
			items.push({ from: i, text });
		});
		const colon = this.flat && !/":\s/.test(this.text) ? ':' : ': ';
		for (const key of Object.keys(target)) {
			if (target[key] === undefined || written.has(key)) continue;
			items.push({ from: null, text: `${JSON.stringify(key)}${colon}${this.fresh(target[key], this.inner(node))}` });
		}
		return this.together(node, items, '{', '}');
	}

	/** @returns null where its entries cannot be told apart, and it is to be written anew */
	private list(node: Node, value: unknown[], target: unknown[], name: string | undefined): string | null {
		const nodes = node.children ?? [];
		const keyIn = (entry: unknown): string | null => (typeof entry === 'string' ? `"${entry}` : keyOf(entry, name));
		const places = new Map<string, number>();
		for (const [i, entry] of value.entries()) {
			const key = keyIn(entry);
			if (key === null || places.has(key)) {
				places.clear();
				break;
			}
			places.set(key, i);
		}
		const keys = target.map(keyIn);
		const told = places.size === value.length && keys.every((k) => k !== null) && new Set(keys).size === keys.length;
		// By place where nothing tells entries apart and there are as many: figures of a place, triangles, boxes.
		if (!told && value.length !== target.length) return null;
		const items = target.map((entry, i): Item => {
			const at = told ? places.get(keys[i] as string) : i;
			const held = at === undefined ? undefined : nodes[at];
			if (at === undefined || !held) return { from: null, text: this.fresh(entry, this.inner(node)) };
			return { from: at, text: this.render(held, value[at], entry, undefined) };
		});
		return this.together(node, items, '[', ']');
	}

	/** What stands before the i-th child, its comma left out. */
	private leadOf(node: Node, i: number): string {
		const children = node.children ?? [];
		const to = children[i]?.offset ?? node.offset + 1;
		if (i === 0) return this.slice(node.offset + 1, to);
		const before = children[i - 1] as Node;
		const between = this.slice(before.offset + before.length, to);
		return between.slice(between.indexOf(',') + 1);
	}

	/** What a new child of a container that is written on several lines is indented by. */
	private inner(node: Node): string {
		const lead = (node.children ?? []).length > 0 ? this.leadOf(node, 0) : '';
		const at = lead.lastIndexOf('\n');
		return at < 0 ? this.indentAt(node.offset) : lead.slice(at + 1);
	}

	private together(node: Node, items: readonly Item[], open: string, close: string): string {
		const children = node.children ?? [];
		if (items.length === 0) return open + close;
		const first = children.length > 0 ? this.leadOf(node, 0) : null;
		// Nothing to go by: as new parts of the file are written.
		if (first === null) {
			const indent = this.indentAt(node.offset);
			const long = `${this.end}${indent}  `;
			if (this.flat) return `${open}${items.map((item) => item.text).join(',')}${close}`;
			const short = items.map((item) => item.text).join(', ');
			if (short.length < SHORT && !short.includes('\n')) return open === '{' ? `{ ${short} }` : `[${short}]`;
			return `${open}${items.map((item) => long + item.text).join(',')}${this.end}${indent}${close}`;
		}
		const last = children.at(-1) as Node;
		const tail = this.slice(last.offset + last.length, node.offset + node.length - 1) + close;
		const inPlace = items.length === children.length && items.every(({ from }, i) => from === i);
		const onLines = first.includes('\n');
		const usual = onLines ? first : children.length > 1 ? this.leadOf(node, 1) : this.flat ? '' : ' ';
		const leads = items.map(({ from }, i) => {
			if (i === 0 && !onLines) return first;
			// What stood first on a line and does no more stands as the others do.
			return from === null || (from === 0 && i > 0 && !onLines) ? usual : this.leadOf(node, from);
		});
		const between = (i: number): string => {
			const before = children[i - 1] as Node;
			return this.slice(before.offset + before.length, (children[i] as Node).offset);
		};
		const parts = items.map(({ text }, i) =>
			i === 0 ? `${leads[0]}${text}` : `${inPlace ? between(i) : `,${leads[i]}`}${text}`,
		);
		return open + parts.join('') + tail;
	}
}

/**
 * @param text JSON
 * @param target what it is to say: plain values
 * @returns the text with the values of `target`; what says the same keeps its characters, the order of its keys and its place
 * @throws SyntaxError for a text that is no JSON, RangeError where the result would not say what it should
 */
export function textWith(text: string, target: unknown): string {
	const mark = text.startsWith('\ufeff') ? '\ufeff' : '';
	const body = text.slice(mark.length);
	const value = JSON.parse(body) as unknown;
	const wanted = JSON.parse(JSON.stringify(target)) as unknown;
	if (deepEqual(value, wanted)) return text;
	const node = parseTree(body);
	if (!node) throw new SyntaxError('no JSON');
	const next =
		body.slice(0, node.offset) +
		new Writer(body).render(node, value, wanted, undefined) +
		body.slice(node.offset + node.length);
	if (!deepEqual(JSON.parse(next), wanted)) throw new RangeError('the text would not say what it should');
	return mark + next;
}
