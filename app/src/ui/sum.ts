/** Simple sums typed into a number field: `2*0.4`, `1/3 + 0.5`, `-(2 - 0.5)`. Plain recursive descent, no eval. */

/** @returns the value, or null when the text is no sum of finite value */
export function evaluateSum(text: string): number | null {
	const tokens = text.replace(/,/g, '.').match(/\d+\.?\d*(?:e[+-]?\d+)?|\.\d+(?:e[+-]?\d+)?|[-+*/()]|\S/gi) ?? [];
	let at = 0;
	const atom = (): number => {
		const token = tokens[at++];
		if (token === undefined) return Number.NaN;
		if (token === '-') return -atom();
		if (token === '+') return atom();
		if (token === '(') {
			const value = sum();
			return tokens[at++] === ')' ? value : Number.NaN;
		}
		return /^[\d.]/.test(token) ? Number(token) : Number.NaN;
	};
	const product = (): number => {
		let value = atom();
		while (tokens[at] === '*' || tokens[at] === '/') value = tokens[at++] === '*' ? value * atom() : value / atom();
		return value;
	};
	const sum = (): number => {
		let value = product();
		while (tokens[at] === '+' || tokens[at] === '-')
			value = tokens[at++] === '+' ? value + product() : value - product();
		return value;
	};
	const value = sum();
	return at === tokens.length && Number.isFinite(value) ? value : null;
}
