/** The cursor, the asker or the aim put where a cell of a map is. */
import { type QueryMap, roundedTriple } from '@frelk/core';
import { rotationOf, turned } from '@frelk/core/geometry';
import type { BenchStore } from '../../model/bench-state';

/** @param heading of a floor map, by which the asker is turned from how it stands; null leaves it so */
export function goToCell(store: BenchStore, map: QueryMap, x: number, y: number, heading: number | null): void {
	const { edit } = store.getState();
	const every = map.every ?? 1;
	if (map.kind === 'cursor') {
		const cell = map.cell ?? 4;
		edit('Cursor from a map', (draft) => {
			const q = draft.queries.find((one) => one.id === map.query);
			if (q?.kind === 'pick') q.cursor = [(x + 0.5) * cell, (y + 0.5) * cell];
		});
	} else if (map.kind === 'floor')
		edit('Stand where a map says', (draft) => {
			const q = draft.queries.find((one) => one.id === map.query);
			const asker = draft.scene.objects.find((o) => o.id === q?.asker);
			if (!asker || asker.parent !== undefined) return;
			const at = asker.position ?? [0, 0, 0];
			const [u, v] = [(map.area?.min[0] ?? 0) + x * every, (map.area?.min[1] ?? 0) + y * every];
			const flat = draft.scene.kind === 'flat';
			asker.position = flat ? [u, v, at[2]] : [u, map.y ?? at[1], v];
			if (heading === null) return;
			const turn = (360 * heading) / (map.headings ?? 1);
			const [yaw, pitch, roll] = asker.rotation ?? [0, 0, 0];
			asker.rotation = flat ? [0, 0, roll + turn] : [yaw + turn, pitch, roll];
		});
	else
		edit('Aim from a map', (draft) => {
			const q = draft.queries.find((one) => one.id === map.query);
			if ((q?.kind !== 'ray' && q?.kind !== 'sweep') || !q.aim) return;
			const yaw = (map.yaw?.[0] ?? 0) + x * every;
			const pitch = (map.pitch?.[1] ?? 0) - y * every;
			q.aim.along = roundedTriple(turned(rotationOf([yaw, pitch, 0]), 0, 0, -1));
		});
}

/** @param u, v where from, in cells. @returns the cell of a value that is nearest, or null where there is none */
export function nearestCell(
	{ columns, cells }: { columns: number; cells: ArrayLike<number> },
	value: number,
	u: number,
	v: number,
): { x: number; y: number } | null {
	let best: { x: number; y: number } | null = null;
	let least = Infinity;
	for (let i = 0; i < cells.length; i++) {
		if (cells[i] !== value) continue;
		const [x, y] = [i % columns, Math.floor(i / columns)];
		const away = (x - u) ** 2 + (y - v) ** 2;
		if (away < least) [least, best] = [away, { x, y }];
	}
	return best;
}
