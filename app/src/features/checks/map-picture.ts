/** A map as a picture: a block a cell, ties hatched, edges between values drawn, so that areas differ without colour. */
import { CELL, type MapResult } from '@frelk/core';

/** Tones of objects, light and dark by turns. */
const TONES = [
	'#8f5614',
	'#96bebe',
	'#465ca0',
	'#d6a85c',
	'#60823c',
	'#c496be',
	'#286e78',
	'#e2ce8c',
	'#963c50',
	'#a0b46e',
	'#5a4678',
	'#ecb496',
];
const EDGE = '#14242b';

export const toneOfObject = (place: number): string => TONES[place % TONES.length] as string;

/** @returns the value shown in a cell: of several headings the chosen one, or the first that selects anything */
export function shownAt({ columns, headings, cells }: MapResult, i: number, j: number, heading: number | null): number {
	const n = headings ?? 1;
	const from = (j * columns + i) * n;
	if (heading !== null) return cells[from + heading] as number;
	for (let k = 0; k < n; k++) if ((cells[from + k] as number) >= 0) return cells[from + k] as number;
	return cells[from] as number;
}

/**
 * @param block pixels of a cell
 * @param lit the only object that is drawn in full; null for all
 */
export function drawMap(
	canvas: HTMLCanvasElement,
	result: MapResult,
	block: number,
	heading: number | null,
	lit: number | null,
	dark: boolean,
): void {
	const { columns, rows } = result;
	canvas.width = columns * block;
	canvas.height = rows * block;
	const pen = canvas.getContext('2d');
	if (!pen) return;
	const plain = dark ? '#1b2b33' : '#eef2f3';
	pen.fillStyle = plain;
	pen.fillRect(0, 0, canvas.width, canvas.height);
	for (let j = 0; j < rows; j++)
		for (let i = 0; i < columns; i++) {
			const value = shownAt(result, i, j, heading);
			if (value === CELL.none) continue;
			const [x, y] = [i * block, j * block];
			pen.globalAlpha = lit !== null && value !== lit ? 0.18 : 1;
			pen.fillStyle =
				value >= 0
					? toneOfObject(value)
					: value === CELL.out
						? dark
							? '#0d171c'
							: '#3c464c'
						: value === CELL.off
							? '#98a3a8'
							: '#ffffff';
			pen.fillRect(x, y, block, block);
			if (value === CELL.tie) {
				pen.strokeStyle = '#b3126b';
				pen.beginPath();
				pen.moveTo(x, y + block);
				pen.lineTo(x + block, y);
				pen.stroke();
			}
		}
	pen.globalAlpha = 1;
	if (block < 3) return;
	pen.strokeStyle = dark ? '#dfe8eb' : EDGE;
	pen.lineWidth = 1;
	pen.beginPath();
	for (let j = 0; j < rows; j++)
		for (let i = 0; i < columns; i++) {
			const value = shownAt(result, i, j, heading);
			if (i + 1 < columns && shownAt(result, i + 1, j, heading) !== value) {
				pen.moveTo((i + 1) * block, j * block);
				pen.lineTo((i + 1) * block, (j + 1) * block);
			}
			if (j + 1 < rows && shownAt(result, i, j + 1, heading) !== value) {
				pen.moveTo(i * block, (j + 1) * block);
				pen.lineTo((i + 1) * block, (j + 1) * block);
			}
		}
	pen.stroke();
}
