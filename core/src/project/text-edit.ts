/** Changes to the text of a file that leave every other character where it was: formatting, line ends, keys of others. */
import { type Node, parseTree } from 'jsonc-parser';
import { writeBlock } from './write';

/** The value of a key; of a key given twice the last, as `JSON.parse` has it. */
function valueAt(node: Node | undefined, key: string): Node | undefined {
	return node?.children?.findLast((property) => property.children?.[0]?.value === key)?.children?.[1];
}

/**
 * @param text a valid project file
 * @param expectations by the check's place in the file's list
 * @returns the same text with the `expect` of these checks replaced, in the file's own line ends
 * @throws RangeError for a place where there is no check
 */
export function replaceExpectations(text: string, expectations: ReadonlyMap<number, unknown>): string {
	const checks = valueAt(parseTree(text), 'checks')?.children ?? [];
	const end = /\r?\n/.exec(text)?.[0] ?? '\n';
	const edits = [...expectations].map(([place, expect]) => {
		const node = valueAt(checks[place], 'expect');
		if (!node) throw new RangeError(`there is no check at place ${place}`);
		const line = text.lastIndexOf('\n', node.offset) + 1;
		const indent = /^[ \t]*/.exec(text.slice(line, node.offset))?.[0] ?? '';
		const long = writeBlock(expect, indent, end);
		// A file that is written on one line stays on one.
		const value = text.includes('\n') ? long : JSON.stringify(expect);
		return { from: node.offset, to: node.offset + node.length, value };
	});
	edits.sort((a, b) => a.from - b.from);
	let out = '';
	let at = 0;
	for (const { from, to, value } of edits) {
		out += text.slice(at, from) + value;
		at = to;
	}
	return out + text.slice(at);
}
