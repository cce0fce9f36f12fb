/** The tests of the page. The first walk is for newcomers: one test takes it, in a browser of its own. */
import { test as base } from '@playwright/test';

export const test = base.extend({
	context: async ({ context }, use) => {
		// Not by `storageState`, which opens a page of its own to put it there: half a second a test.
		await context.addInitScript(() => localStorage.setItem('frelk-walked', 'yes'));
		await use(context);
	},
});

export { type BrowserContext, expect, type Page } from '@playwright/test';
