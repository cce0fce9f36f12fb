/** The tests of the page. The first walk is for newcomers: one test takes it, in a browser of its own. */
import { type BrowserContext, test as base, expect } from '@playwright/test';

/** Not by `storageState`, which opens a page of its own to put it there: half a second a test. */
const walked = (context: BrowserContext) => context.addInitScript(() => localStorage.setItem('frelk-walked', 'yes'));

export const test = base.extend<object, { kept: BrowserContext }>({
	/**
	 * One context for all tests that ask for a page alone, emptied for each: the browser then compiles the application once, not
	 * once a test. A test that asks for `context` has one of its own.
	 */
	kept: [
		async ({ browser }, use, { project }) => {
			const { viewport, colorScheme, serviceWorkers, baseURL } = project.use;
			const context = await browser.newContext({ viewport, colorScheme, serviceWorkers, baseURL });
			await walked(context);
			await use(context);
			await context.close();
		},
		{ scope: 'worker' },
	],
	page: async ({ kept, baseURL }, use) => {
		const page = await kept.newPage();
		const session = await kept.newCDPSession(page);
		await session.send('Storage.clearDataForOrigin', {
			origin: new URL(baseURL as string).origin,
			storageTypes: 'cookies,local_storage,indexeddb,service_workers,cache_storage',
		});
		await session.detach();
		// Whatever a test looks at, the policy stops no script of ours there.
		const stopped: string[] = [];
		page.on('console', (message) => {
			if (/Content Security Policy|Refused to/.test(message.text())) stopped.push(message.text());
		});
		await use(page);
		expect(stopped).toEqual([]);
		for (const open of kept.pages()) await open.close();
		await kept.unrouteAll();
	},
	context: async ({ context }, use) => {
		await walked(context);
		await use(context);
	},
});

export { type BrowserContext, expect, type Page } from '@playwright/test';
