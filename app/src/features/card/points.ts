/** Points as text, one a line: `0.5 0 -0.5`. */
export function readPoints(text: string, numbers: 2 | 3): number[][] | string {
	const lines = text.split('\n').filter((line) => line.trim() !== '');
	const points: number[][] = [];
	for (const [i, line] of lines.entries()) {
		const values = line
			.trim()
			.split(/[\s,;]+/)
			.map(Number);
		if (values.length !== numbers || values.some((v) => !Number.isFinite(v)))
			return `line ${i + 1}: ${numbers} numbers, please`;
		points.push(values);
	}
	return points.length < numbers + 1 ? `at least ${numbers + 1} points` : points;
}
