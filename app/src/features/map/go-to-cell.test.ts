/** A cell that is clicked: the scene is put so that the query answers what the cell shows. */
import { Answerer, buildWorld } from '@frelk/core';
import { MapAsker } from '@frelk/core/maps';
import { example } from '@frelk/core/tests/examples';
import { expect, it } from 'vitest';
import { createBench } from '../../model/store';
import { goToCell, nearestCell } from './go-to-cell';

const quay = example('harl-quay');

it.each(quay.maps ?? [])('$name: a cell that is clicked is answered as it says', (map) => {
	const asker = new MapAsker(quay, map);
	const { columns, rows, headings } = asker.grid;
	let met = 0;
	for (let at = 0; at < columns * rows; at += Math.ceil((columns * rows) / 60)) {
		const [x, y] = [at % columns, Math.floor(at / columns)];
		const heading = headings > 1 ? at % headings : null;
		const value = asker.ask(at * headings + (heading ?? 0)).value;
		// Where it is not clear nothing is asked.
		if (value < -1) continue;
		const store = createBench('p', quay);
		goToCell(store, map, x, y, heading);
		const { project } = store.getState();
		const query = project.queries.find((q) => q.id === map.query);
		const answer = query && new Answerer(buildWorld(project, map.moment ?? null)).winner(query);
		expect(answer?.selected[0]?.object ?? null, `cell ${x}, ${y}`).toBe(
			value < 0 ? null : (quay.scene.objects[value]?.id ?? null),
		);
		if (value >= 0) met++;
	}
	expect(met).toBeGreaterThan(2);
});

it('the nearest cell of a value is found, and none where there is none', () => {
	const cells = [3, 1, 1, 1, 3, 1];
	expect(nearestCell({ columns: 3, cells }, 3, 0.4, 0)).toEqual({ x: 0, y: 0 });
	expect(nearestCell({ columns: 3, cells }, 3, 2, 1)).toEqual({ x: 1, y: 1 });
	expect(nearestCell({ columns: 3, cells }, 7, 0, 0)).toBeNull();
});
