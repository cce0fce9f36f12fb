/** @returns a value as indented JSON whose first line stands `spaces` in */
export const indented = (value: unknown, spaces: number): string =>
	JSON.stringify(value, null, 2).replaceAll('\n', `\n${' '.repeat(spaces)}`);
