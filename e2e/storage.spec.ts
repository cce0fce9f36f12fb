/** What the browser keeps: two tabs, a full store, none at all, damaged rows, and projects that do not open. */

import { put, putSlow, storedText } from './stored';
import { type BrowserContext, expect, type Page, test } from './test';

const name = (page: Page) => page.getByRole('textbox', { name: 'Project name' });
const saved = (page: Page) => expect(page.getByRole('banner').getByText('Saved', { exact: true })).toBeVisible();

async function rename(page: Page, to: string): Promise<void> {
	await name(page).fill(to);
	await name(page).press('Enter');
}

async function opened(context: BrowserContext, path = '/p/harl-quay'): Promise<Page> {
	const page = await context.newPage();
	await page.goto(path);
	await expect(page.getByRole('complementary', { name: 'Ladder' })).toContainText('Gangway crank');
	return page;
}

test('another tab hears of an edit at once, without being looked at, and keeps its own', async ({ context }) => {
	const one = await opened(context);
	const two = await opened(context);
	await rename(one, 'Quay in the rain');
	await expect(name(two)).toHaveValue('Quay in the rain');
	// Different things, at the same time.
	const field = two.getByRole('textbox', { name: 'Name of the query' });
	await field.fill('Long gaze');
	await Promise.all([rename(one, 'Quay in the fog'), field.press('Enter')]);
	for (const page of [one, two]) {
		await expect(name(page)).toHaveValue('Quay in the fog');
		await expect(page.getByRole('textbox', { name: 'Name of the query' })).toHaveValue('Long gaze');
		await saved(page);
		await expect(page.getByRole('alert')).toHaveCount(0);
	}
	const text = JSON.parse(await storedText(one, 'harl-quay'));
	expect([text.name, text.queries[0].name]).toEqual(['Quay in the fog', 'Long gaze']);
	// Undo takes back what was done here alone.
	await two.getByRole('button', { name: /^Undo/ }).click();
	await expect(two.getByRole('textbox', { name: 'Name of the query' })).toHaveValue('Gaze');
	await expect(name(two)).toHaveValue('Quay in the fog');
});

test('where both tabs change the same, that is said, and the other is one undo away', async ({ context }) => {
	// Two tabs that do not hear of each other meanwhile, as when one is frozen.
	await context.addInitScript(() => {
		Object.defineProperty(BroadcastChannel.prototype, 'onmessage', { set: () => {} });
	});
	const one = await opened(context);
	const two = await opened(context);
	await rename(one, 'From one');
	await saved(one);
	await rename(two, 'From two');
	const alert = two.getByRole('alert');
	await expect(alert).toContainText(
		'Changed in two places.name. What you did here stands; undo takes what the other did.',
	);
	await saved(two);
	expect(JSON.parse(await storedText(two, 'harl-quay')).name).toBe('From two');
	await alert.getByRole('button', { name: 'Take the other' }).click();
	await expect(name(two)).toHaveValue('From one');
	await expect(alert).toHaveCount(0);
	await saved(two);
	// A frozen tab looks for itself when it is seen again; what is being typed there stays.
	await name(one).fill('Half typed');
	await rename(two, 'From two again');
	await saved(two);
	await one.evaluate(() => document.dispatchEvent(new Event('visibilitychange')));
	await one.waitForTimeout(800);
	await expect(name(one)).toHaveValue('Half typed');
	await name(one).press('Escape');
	await expect(name(one)).toHaveValue('From two again');
});

/** Seconds of editing, and how many times: a minute and twenty times over the night, less with every change. */
const SECONDS = Number(process.env.FRELK_TABS_SECONDS ?? 8);
const TIMES = Number(process.env.FRELK_TABS_TIMES ?? 1);

for (let time = 0; time < TIMES; time++)
	test(`nothing that both tabs said was saved is gone after ${SECONDS} s of editing in both (${time + 1})`, async ({
		context,
	}) => {
		test.setTimeout((SECONDS + 60) * 1000);
		const pages = [await opened(context), await opened(context)];
		const queries = pages.map((page) => page.getByRole('navigation', { name: 'Queries' }));
		/** The last name said to be saved, by query and by tab: the first three are the one's, the next three the other's, the last is both's. */
		const last: [Map<number, string>, Map<number, string>] = [new Map(), new Map()];
		const until = Date.now() + SECONDS * 1000;
		let edits = 0;
		await Promise.all(
			pages.map(async (page, side) => {
				let seed = 17 + side + 100 * time;
				const dice = (n: number) => {
					seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
					return Math.floor((seed / 4294967296) * n);
				};
				while (Date.now() < until) {
					const which = dice(4) === 0 ? 6 : 3 * side + dice(3);
					await queries[side]?.getByRole('listitem').nth(which).getByRole('button').first().click();
					const field = page.getByRole('textbox', { name: 'Name of the query' });
					const text = `Edit ${++edits} of ${side}`;
					await field.fill(text);
					await field.press('Enter');
					// Some wait until it is saved, some go on at once.
					if (dice(2) === 0) await saved(page);
					last[side as 0 | 1].set(which, text);
				}
				await saved(page);
			}),
		);
		const stored = () =>
			storedText(pages[0] as Page, 'harl-quay').then((text) =>
				(JSON.parse(text).queries as { name: string }[]).map((q) => q.name),
			);
		await expect.poll(async () => (await stored())[0]).toBe(last[0].get(0) ?? 'Gaze');
		const names = await stored();
		for (const [side, map] of last.entries())
			for (const [which, text] of map)
				if (which !== 6) expect(names[which], `query ${which} of tab ${side}`).toBe(text);
		expect([last[0].get(6), last[1].get(6)]).toContain(names[6]);
		for (const list of queries)
			for (const one of names)
				await expect(list.getByRole('button', { name: new RegExp(`^${one}, `) }).first()).toBeVisible();
		console.log(`  ${edits} edits in two tabs, none lost`);
	});

test('a project deleted in another tab is not brought back unasked', async ({ context }) => {
	const one = await opened(context);
	const home = await context.newPage();
	await home.goto('/');
	await home.getByRole('button', { name: 'Delete Quay at Harl', exact: true }).click();
	await expect(one.getByRole('alert')).toContainText('deleted in another tab');
	await rename(one, 'Still mine');
	await one.waitForTimeout(1500);
	await home.reload();
	await expect(home.getByRole('listitem').filter({ hasText: 'Still mine' })).toHaveCount(0);
	// Leaving is asked about.
	await one.getByRole('link', { name: 'Frelk, all projects' }).click();
	const asked = one.getByRole('dialog');
	await expect(asked).toContainText('Leave with edits that are not saved?');
	await asked.getByRole('button', { name: 'Stay' }).click();
	await one.getByRole('button', { name: 'Bring it back' }).click();
	await saved(one);
	await one.getByRole('link', { name: 'Frelk, all projects' }).click();
	await expect(one.getByRole('textbox', { name: 'Name of Still mine' })).toBeVisible();
});

test('a full store is said, tried again until it is written, and asked about before leaving', async ({ context }) => {
	// The browser refuses as it does when the disk is full; the page writes by itself, where the test reaches it.
	await context.addInitScript(() => {
		const { put } = IDBObjectStore.prototype;
		IDBObjectStore.prototype.put = function (this: IDBObjectStore, ...args: Parameters<typeof put>) {
			if ((window as { full?: boolean }).full)
				throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
			return put.apply(this, args);
		};
		const Own = Worker;
		window.Worker = class extends Own {
			constructor(url: string | URL, options?: WorkerOptions) {
				if (options?.name === 'frelk-saver') throw new Error('not here');
				super(url, options);
			}
		};
	});
	const page = await opened(context);
	const full = (is: boolean) =>
		page.evaluate((is) => {
			(window as { full?: boolean }).full = is;
		}, is);
	await full(true);
	await rename(page, 'No room for this');
	const alert = page.getByRole('alert');
	await expect(alert).toContainText('Not saved');
	await expect(alert).toContainText('no room left in this browser’s storage: delete projects you no longer need');
	const download = page.waitForEvent('download');
	await alert.getByRole('button', { name: 'Export now' }).click();
	expect((await download).suggestedFilename()).toBe('harl-quay.frelk.json');
	await page.getByRole('link', { name: 'Frelk, all projects' }).click();
	await expect(page.getByRole('dialog')).toContainText('no room left');
	await page.keyboard.press('Escape');
	await expect(page.getByRole('dialog')).toHaveCount(0);
	await expect(name(page)).toHaveValue('No room for this');
	let asked = false;
	page.on('dialog', (dialog) => {
		asked = dialog.type() === 'beforeunload';
		void dialog.dismiss();
	});
	await page.close({ runBeforeUnload: true });
	await expect.poll(() => asked).toBe(true);
	await full(false);
	await saved(page);
	// The list of projects says so too, and goes on.
	const home = await context.newPage();
	await home.goto('/');
	await home.evaluate(() => {
		(window as { full?: boolean }).full = true;
	});
	await home.getByRole('button', { name: 'Duplicate No room for this' }).click();
	await expect(home.getByRole('alert')).toContainText('Nothing was done: there is no room left');
	await expect(home.getByRole('textbox', { name: 'Name of No room for this' })).toBeVisible();
	await home.close();
	await expect(alert).toHaveCount(0);
	expect(JSON.parse(await storedText(page, 'harl-quay')).name).toBe('No room for this');
});

for (const [what, script] of [
	['without storage', () => Object.defineProperty(window, 'indexedDB', { value: undefined })],
	[
		'whose storage is forbidden',
		() => {
			const refuse = () => {
				throw new DOMException('denied', 'SecurityError');
			};
			Object.defineProperty(window, 'localStorage', { get: refuse });
			IDBFactory.prototype.open = refuse;
		},
	],
] as const)
	test(`in a browser ${what} all works in memory, and that is said`, async ({ page }) => {
		await page.addInitScript(script);
		await page.goto('/');
		await expect(page.getByText('Nothing is kept here')).toBeVisible();
		await page.getByRole('link', { name: 'Quay at Harl', exact: true }).click();
		// The walk for newcomers, where it could not be remembered that it was taken.
		await page.keyboard.press('Escape');
		await expect(page.getByText('Nothing is kept here')).toBeVisible();
		await expect(page.getByRole('complementary', { name: 'Ladder' })).toContainText('Gangway crank');
		await rename(page, 'Written on water');
		await expect(page.getByText('In memory only')).toBeVisible();
		await page.getByRole('button', { name: 'Switch to the dark theme' }).click();
		await page.getByRole('link', { name: 'Frelk, all projects' }).click();
		await page.getByRole('link', { name: 'Written on water', exact: true }).click();
		await expect(name(page)).toHaveValue('Written on water');
	});

test('damaged rows stand in the list beside the whole ones, and can be taken out and deleted', async ({ page }) => {
	await page.goto('/');
	await expect(page.getByRole('textbox', { name: 'Name of Quay at Harl' })).toBeVisible();
	const long = 'a very long name '.repeat(400);
	await put(page, {
		projects: [
			{ key: 'cut', name: 'Cut off', changed: Date.now(), version: 1 },
			{ key: 'odd', name: { not: 'text' }, changed: Date.now(), version: 1 },
			{ key: 'long', name: long, changed: Date.now(), version: 1 },
			{ key: 'broken', name: 'Names what is gone', changed: Date.now(), version: 1 },
		],
		texts: [
			{ key: 'cut', text: '{"format": "frelk/1", "id": "cut", "na' },
			{ key: 'orphan', text: '{}' },
			{ key: 'long', text: JSON.stringify({ format: 'frelk/1', id: 'long', name: long }) },
			{
				key: 'broken',
				text: JSON.stringify({
					format: 'frelk/1',
					id: 'broken',
					name: 'Names what is gone',
					scene: { kind: 'space', layers: [{ id: 'a' }], tags: [], objects: [], cameras: [] },
					queries: [{ id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [1, 0, 0] } }],
					checks: [{ id: 'ghost', query: 'gone', expect: { none: true } }],
				}),
			},
		],
	});
	await page.reload();
	const card = (text: string | RegExp) => page.getByRole('listitem').filter({ hasText: text });
	await expect(page.getByRole('textbox', { name: 'Name of Quay at Harl' })).toBeVisible();
	await expect(card('its entry in the store is damaged')).toBeVisible();
	await expect(card('its entry in the store is missing')).toBeVisible();
	await expect(card('Unreadable: (the file): is not JSON: line 1, column 36')).toBeVisible();
	// Nothing runs out of its card.
	expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
	const download = page.waitForEvent('download');
	await page.getByRole('button', { name: 'Export orphan' }).click();
	expect((await download).suggestedFilename()).toBe('orphan.frelk.json');
	await page.getByRole('button', { name: 'Delete orphan' }).click();
	await expect(card('its entry in the store is missing')).toHaveCount(0);
	await page.getByRole('link', { name: 'Cut off' }).click();
	await expect(page.getByRole('heading', { name: '“Cut off” cannot be opened' })).toBeVisible();
	await expect(page.getByLabel('Its text, as it lies in this browser')).toHaveValue(
		'{"format": "frelk/1", "id": "cut", "na',
	);
	await page.getByRole('button', { name: 'Delete it' }).click();
	await expect(page.getByRole('status').filter({ hasText: '“Cut off” is deleted' })).toBeVisible();
	await page.getByRole('link', { name: 'Names what is gone' }).click();
	await expect(page.getByText('checks[0].query: no query "gone"')).toBeVisible();
	await page.getByRole('button', { name: 'Open it without the check ghost' }).click();
	await expect(name(page)).toHaveValue('Names what is gone');
	expect(JSON.parse(await storedText(page, 'broken')).checks).toEqual([]);
});

test('a project that takes long to open can be left, taken out and deleted, and the page stays usable', async ({
	page,
}) => {
	test.setTimeout(120_000);
	await page.goto('/');
	await expect(page.getByRole('textbox', { name: 'Name of Quay at Harl' })).toBeVisible();
	await putSlow(page);
	await page.goto('/p/slow');
	await expect(page.getByText('Opening “Slow”…')).toBeVisible();
	await expect(page.getByRole('heading', { name: 'Opening “Slow” takes long' })).toBeVisible({ timeout: 15_000 });
	// The page answers while it goes on: the work is a worker's.
	await page.getByRole('link', { name: 'Go to all projects' }).click();
	await expect(page.getByRole('textbox', { name: 'Name of Quay at Harl' })).toBeVisible();
	await page.getByRole('button', { name: 'Delete Slow' }).click();
	await expect(page.getByRole('textbox', { name: 'Name of Slow' })).toHaveCount(0);
});

test('a tab that died while it opened a project is told of at the next start', async ({ context }) => {
	const page = await context.newPage();
	await page.goto('/');
	await expect(page.getByRole('textbox', { name: 'Name of Quay at Harl' })).toBeVisible();
	await putSlow(page);
	await page.goto('/p/slow');
	await expect(page.getByText('Opening “Slow”…')).toBeVisible();
	await page.waitForTimeout(3500);
	const devtools = await context.newCDPSession(page);
	const crashed = page.waitForEvent('crash');
	void devtools.send('Page.crash').catch(() => {});
	await crashed;
	const next = await context.newPage();
	await next.goto('/');
	await expect(next.getByText('the last time it was opened, the tab ended')).toBeVisible();
	await next.getByRole('link', { name: 'Slow', exact: true }).click();
	await expect(next.getByRole('heading', { name: '“Slow” was not opened' })).toBeVisible();
	await expect(next.getByRole('button', { name: 'Try again' })).toBeVisible();
	await next.getByRole('button', { name: 'Delete it' }).click();
	await expect(next.getByRole('textbox', { name: 'Name of Slow' })).toHaveCount(0);
	// One that was opened, looked at from every side and left leaves no mark.
	await next.goto('/p/harl-quay');
	await next.getByRole('link', { name: 'Checks' }).click();
	await next.getByRole('link', { name: 'Bench' }).click();
	await rename(next, 'Seen');
	await saved(next);
	await next.reload();
	await expect(name(next)).toHaveValue('Seen');
});
