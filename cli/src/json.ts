/** @returns a value as indented JSON whose first line stands `spaces` in */
export const indented = (value: unknown, spaces: number): string =>
	JSON.stringify(value, null, 2).replaceAll('\n', `\n${' '.repeat(spaces)}`);

const isWhole = (value: unknown): boolean => Array.isArray(value) && value.every((v) => Number.isSafeInteger(v));

/** @returns the same with lists of whole numbers, as the cells of a map are, on one line each */
export function indentedGrid(value: unknown, spaces: number): string {
	if (typeof value !== 'object' || value === null || isWhole(value)) return JSON.stringify(value);
	const inner = `\n${' '.repeat(spaces + 2)}`;
	const parts = Array.isArray(value)
		? value.map((entry) => indentedGrid(entry ?? null, spaces + 2))
		: Object.entries(value).flatMap(([key, entry]) =>
				entry === undefined ? [] : `${JSON.stringify(key)}: ${indentedGrid(entry, spaces + 2)}`,
			);
	const [open, close] = Array.isArray(value) ? '[]' : '{}';
	return parts.length === 0
		? `${open}${close}`
		: `${open}${inner}${parts.join(`,${inner}`)}\n${' '.repeat(spaces)}${close}`;
}
