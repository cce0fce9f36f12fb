/** A link handed to someone else: what one looks at, with the project in it. */
import { expect, test } from '@playwright/test';

test('a link opens a copy for whoever gets it: the same query, moment and object in hand, after it was shown what it is', async ({
	browser,
	page,
	context,
}) => {
	await context.grantPermissions(['clipboard-read', 'clipboard-write']);
	await page.goto('/p/harl-quay?query=reach&moment=crank-jammed&hand=bell');
	await expect(page.getByRole('region', { name: 'Card: Quay bell' })).toBeVisible();
	await page.getByRole('button', { name: 'Export' }).click();
	await page.getByRole('button', { name: 'Copy a link' }).click();
	await expect(page.getByText('The link is on the clipboard.')).toBeVisible();
	const link = await page.evaluate(() => navigator.clipboard.readText());
	const other = await browser.newContext();
	const there = await other.newPage();
	const asked: string[] = [];
	there.on('request', (request) => asked.push(request.url()));
	await there.goto(link);
	await expect(there.getByRole('heading', { name: 'Quay at Harl' })).toBeVisible();
	await expect(there.getByText('It opens at Reach, The crank is jammed.')).toBeVisible();
	await there.getByRole('button', { name: 'Open as a copy' }).click();
	await expect(there.getByRole('region', { name: 'Card: Quay bell' })).toBeVisible();
	await expect(there.getByLabel('Moment', { exact: true })).toHaveValue('crank-jammed');
	await expect(there.getByRole('region', { name: 'Sentence' })).toContainText('Within a box 3.2');
	// No server was told of the project.
	expect(asked.every((url) => !url.includes(link.slice(-40)))).toBe(true);
	await other.close();
});

test('a link that was cut off says so, and keeps nothing', async ({ page }) => {
	await page.goto('/link#1.abc');
	await expect(page.getByRole('heading', { name: 'This link cannot be opened' })).toBeVisible();
	await expect(page.getByRole('alert')).toContainText('The link is damaged');
	await page.getByRole('link', { name: 'All projects' }).click();
	await expect(page.getByRole('heading', { name: 'Projects' })).toBeVisible();
});
