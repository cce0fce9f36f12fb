/** What the last edits changed, as it was before each of them. */
import { expect, it } from 'vitest';
import { earlierIn } from './earlier';

const at = (objects: Record<string, number>, queries: string[] = []) =>
	({
		scene: { objects: Object.entries(objects).map(([id, x]) => ({ id, position: [x, 0, 0] })) },
		queries: queries.map((id) => ({ id })),
	}) as never;

it('tells each entry as it was before every edit that changed it, the newest first', () => {
	const one = at({ a: 1, b: 1 }) as { scene: { objects: { id: string }[] }; queries: unknown[] };
	const [a, b] = one.scene.objects;
	const moved = { id: 'a', position: [2, 0, 0] };
	const two = { ...one, scene: { objects: [moved, b] } };
	const three = {
		...two,
		scene: { objects: [{ id: 'a', position: [3, 0, 0] }, b, { id: 'c' }] },
		queries: [{ id: 'q' }],
	};
	const past = [
		{ label: 'Move a', project: one },
		{ label: 'Move a again', project: two },
	] as never;
	expect(earlierIn(three as never, past)).toEqual([
		{ entry: { object: moved }, edit: 'Move a again' },
		{ entry: { object: a }, edit: 'Move a' },
	]);
	// What came or went was not changed; what was left alone is not told.
	expect(earlierIn(at({}), [{ label: 'Delete', project: one }] as never)).toEqual([]);
	const asked = { ...one, queries: [{ id: 'q', kind: 'ray' }] };
	expect(earlierIn(asked as never, [{ label: 'Ask', project: { ...one, queries: [{ id: 'q' }] } }] as never)).toEqual([
		{ entry: { query: { id: 'q' } }, edit: 'Ask' },
	]);
});

it('looks back thirty edits', () => {
	const past = Array.from({ length: 40 }, (_, i) => ({ label: `${i}`, project: at({ a: i }) }));
	expect(earlierIn(at({ a: 40 }), past as never).map((e) => e.edit)).toEqual(
		Array.from({ length: 30 }, (_, i) => `${39 - i}`),
	);
});
