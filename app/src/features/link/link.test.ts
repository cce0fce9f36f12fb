/** Links with a project in them: there and back, and what is said of one that is no more whole. */
import type { Project } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { addressOf, fromLink, linkTo, type Place } from './link';

const desk = example('pursers-desk');
const place: Place = {
	view: 'time',
	query: 'point',
	moment: 'm',
	hand: ['a', 'b'],
	pinned: 'c',
	run: 'r',
	at: 1.25,
	pose: { mode: 'plan', target: [1, 2, 3], yaw: 0, pitch: 0, distance: 4 },
};
const fragmentOf = async (project: Project, at: Place = place): Promise<string> => {
	const link = await linkTo('http://127.0.0.1:4174', project, at);
	expect(link).toMatch(/^http:\/\/127\.0\.0\.1:4174\/link#1\.[\w-]+$/);
	return new URL(link ?? '').hash;
};

describe('a link', () => {
	it('brings the project and the place, from every example that fits', async () => {
		for (const name of ['pursers-desk', 'deck-from-above', 'harl-quay'])
			expect(await fromLink(await fragmentOf(example(name)))).toEqual({ project: example(name), place });
		expect((await fragmentOf(example('harl-quay'))).length).toBeLessThan(20_000);
	});

	it('is none of what is too long for one', async () => {
		const notes = 'n'.repeat(200_000);
		expect(await linkTo('http://x', { ...desk, extras: { notes } } as Project, place)).toBeNull();
	});

	it.each([
		['#', /no project in it/],
		['', /no project in it/],
		['#2.abc', /another version/],
		['#1.abc', /damaged/],
		['#1.%%%', /damaged/],
	])('%j says what is wrong with it', async (hash, message) => {
		await expect(fromLink(hash)).rejects.toThrow(message);
	});

	it('that was cut off anywhere, or is no project, is said to be', async () => {
		const whole = await fragmentOf(desk);
		for (const at of [5, 100, whole.length >> 1, whole.length - 1])
			await expect(fromLink(whole.slice(0, at))).rejects.toThrow('damaged');
		const broken = await fragmentOf({ ...desk, queries: 3 } as never);
		await expect(fromLink(broken)).rejects.toThrow(/no project:\nqueries: /);
	});

	it('that unpacks to more than any link of ours is not unpacked', async () => {
		const bomb = new Blob([new Uint8Array(5_000_000)]).stream().pipeThrough(new CompressionStream('deflate-raw'));
		const bytes = Buffer.from(await new Response(bomb).arrayBuffer());
		await expect(fromLink(`#1.${bytes.toString('base64url')}`)).rejects.toThrow('damaged');
	});

	it('with a place that is none opens on the bench', async () => {
		const wrong = { view: 'elsewhere', query: 3, hand: 'x', at: 'soon', pose: { distance: -1 } } as never;
		expect((await fromLink(await fragmentOf(desk, wrong))).place).toEqual({ view: 'bench' });
	});

	it('becomes an address that is taken once', () => {
		expect(addressOf('k', place)).toBe('/p/k/time?query=point&moment=m&hand=a+b&pin=c&run=r&at=1.25');
		expect(addressOf('k', { view: 'bench' })).toBe('/p/k');
	});
});
