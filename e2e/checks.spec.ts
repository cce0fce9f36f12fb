/** Moments, checks and the board: answers kept, broken, found and repaired. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { onRung } from './ladder';
import { expect, type Page, test } from './test';

const before = join(import.meta.dirname, '../examples/harl-quay-before.frelk.json');
const answer = (page: Page) => page.getByRole('region', { name: 'Answer' });
const cell = (page: Page) => page.getByRole('complementary', { name: 'Cell' });

test('the scene before the fix: the board shows what fails, the bench opens there, and the repair holds', async ({
	page,
}) => {
	await page.goto('/');
	await page.getByRole('button', { name: 'Open a copy of Quay at Harl, before the fix' }).click();
	await page.getByRole('link', { name: 'Checks' }).click();
	const summary = page.getByRole('region', { name: 'What fails' });
	await expect(summary).toContainText('4 checks fail');
	await expect(summary).toContainText('wanted Gangway crank, got Lemon crate 4');
	await summary.getByRole('button', { name: /^Gaze/ }).first().click();
	await expect(cell(page)).toContainText('got Lemon crate 4');
	await cell(page).getByRole('button', { name: 'Open on the bench' }).click();
	await expect(answer(page)).toContainText('Lemon crate 4');
	await answer(page)
		.getByRole('button', { name: /Lemon crate 4/ })
		.click();
	const card = page.getByRole('region', { name: 'Card: Lemon crate 4' });
	await card.getByLabel('X', { exact: true }).fill('5');
	await card.getByLabel('X', { exact: true }).press('Enter');
	await expect(answer(page)).toContainText('Gangway crank');
	await page.keyboard.press('Control+k');
	await page.getByRole('dialog', { name: 'Find' }).getByRole('combobox').fill('Far cleat');
	await page
		.getByRole('option', { name: /Far cleat/ })
		.first()
		.click();
	await page.getByRole('button', { name: 'Tags: none' }).click();
	await page.getByRole('checkbox', { name: 'cleat' }).check();
	await page.keyboard.press('Escape');
	await page.getByRole('link', { name: 'Checks' }).click();
	await expect(page.getByRole('status').filter({ hasText: '30 hold' })).toBeVisible();
	await expect(page.getByText('fails:')).toHaveCount(0);
	// The history says that two were mended.
	await page.getByRole('tab', { name: 'History' }).click();
	await expect(page.getByRole('tabpanel')).toContainText('28 hold, 4 fail');
	await expect(page.getByRole('tabpanel')).toContainText('30 hold, 2 fail');
});

test('an answer is kept in one action, and turns red when the scene breaks it', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(page.getByText('64 hold')).toBeVisible();
	// What is kept already is not kept twice.
	await expect(answer(page).getByRole('button', { name: 'Keep this answer' })).toBeDisabled();
	await page.getByRole('button', { name: 'New query' }).click();
	await page.getByRole('button', { name: /^ray/ }).click();
	await expect(answer(page)).toContainText('not checked, as laid out');
	// What was opened to be said next lies, in a narrow window, over the answer.
	await page.keyboard.press('Escape');
	await answer(page).getByRole('button', { name: 'Keep this answer' }).click();
	await expect(page.getByText('65 hold')).toBeVisible();
	await expect(answer(page)).toContainText('kept: 1 check, as laid out');
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	await page.getByRole('region', { name: 'Card: Gangway crank' }).getByLabel('Active', { exact: true }).uncheck();
	await expect(answer(page)).toContainText('A check fails: wanted Gangway crank');
	await expect(page.getByText(/\d+ fail/).first()).toBeVisible();
	await page.getByRole('button', { name: /^Undo: Active/ }).click();
	await expect(page.getByText('65 hold')).toBeVisible();
	await expect(page.getByText(/\d+ fail$/)).toHaveCount(0);
});

test('a broken scene turns the board; the failing cell opens the bench there, and the repair holds', async ({
	page,
}) => {
	await page.goto('/p/pursers-desk');
	await expect(page.getByText('19 hold')).toBeVisible();
	await page
		.getByRole('navigation', { name: 'Queries' })
		.getByRole('button', { name: /^An unpunched stub/ })
		.click();
	await expect(answer(page)).toContainText('Stub 101');
	await answer(page)
		.getByRole('button', { name: /Stub 101/ })
		.click();
	const card = page.getByRole('region', { name: 'Card: Stub 101' });
	await card.getByLabel('punched', { exact: true }).check();
	await expect(answer(page)).toContainText('Nothing is selected');
	await page.getByRole('link', { name: 'Checks' }).click();
	await expect(page.getByText(/^fails: wanted Stub 101/).first()).toBeVisible();
	await page
		.getByRole('region', { name: 'What fails' })
		.getByRole('button', { name: /^An unpunched stub/ })
		.first()
		.click();
	await expect(cell(page)).toContainText('since “punched of Stub 101”');
	await expect(cell(page)).toContainText('needs punched is no; it is yes');
	await cell(page).getByRole('button', { name: 'Open on the bench' }).click();
	await (await onRung(page, 'There, but for a filter', 'Stub 101')).click();
	await card.getByLabel('punched', { exact: true }).uncheck();
	await expect(answer(page)).toContainText('Stub 101');
	await page.getByRole('link', { name: 'Checks' }).click();
	await expect(page.getByRole('status').filter({ hasText: '19 hold' })).toBeVisible();
	await expect(page.getByText(/^fails:/)).toHaveCount(0);
});

test('what is done at a moment is recorded in it, listed, and taken out again', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await page.getByRole('button', { name: 'Moments', exact: true }).click();
	const moments = page.getByRole('region', { name: 'Moments' });
	await moments.getByRole('button', { name: /^New moment/ }).click();
	await expect(moments.getByRole('button', { name: 'Looking at it' })).toBeVisible();
	await expect(page.getByText('records', { exact: true })).toBeVisible();
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	await page.getByRole('region', { name: 'Card: Gangway crank' }).getByLabel('jammed', { exact: true }).check();
	await expect(answer(page)).toContainText('Nothing is selected');
	await expect(moments).toContainText('Gangway crank: jammed, no → yes');
	// The scene itself has not changed.
	await page.getByLabel('Moment', { exact: true }).selectOption({ label: 'Scene as laid out' });
	await expect(answer(page)).toContainText('Gangway crank');
	const list = moments.getByRole('list', { name: 'What Moment 6 changes' });
	await list.getByRole('button', { name: 'Take out: Gangway crank: jammed, no → yes' }).click();
	await expect(list).toContainText('Nothing yet: the same as what it is on.');
});

test('checks are changed in words, switched off, and compared with an earlier version', async ({ page }) => {
	await page.goto('/p/pursers-desk/checks');
	await page.getByRole('tab', { name: 'Compare' }).click();
	await page.getByRole('button', { name: 'Keep this version' }).click();
	await expect(page.getByRole('button', { name: 'Compare', exact: true })).toBeVisible();
	await page.getByRole('tab', { name: 'Board' }).click();
	await page.getByRole('row').nth(1).getByRole('button').first().click();
	await expect(page.getByRole('status').filter({ hasText: '19 hold' })).toBeVisible();
	await cell(page).getByText('change what is wanted').first().click();
	await cell(page).getByLabel('What is wanted').first().selectOption({ label: 'is off' });
	await expect(page.getByRole('status').filter({ hasText: '18 hold, 1 fail' })).toBeVisible();
	await expect(cell(page)).toContainText('the query to be off');
	await cell(page).getByLabel('Switched off').first().check();
	await expect(page.getByRole('status').filter({ hasText: '18 hold' })).toBeVisible();
	await expect(cell(page)).toContainText('switched off');
	await page.getByRole('link', { name: 'Bench' }).click();
	await page.getByRole('button', { name: 'Switch off' }).click();
	await page.getByRole('link', { name: 'Checks' }).click();
	await page.getByRole('tab', { name: 'Compare' }).click();
	await page.getByRole('button', { name: 'Compare', exact: true }).click();
	await expect(page.getByRole('region', { name: 'Changed answers' })).toContainText('→ off');
});

test('the weakest checks are found with progress, and shown on the stage', async ({ page }) => {
	await page.goto('/p/pursers-desk/checks');
	await page.getByRole('tab', { name: 'Weakest' }).click();
	await expect(page.getByText(/cursor moved [\d.]+ px/).first()).toBeVisible({ timeout: 30_000 });
	await page
		.getByRole('button', { name: /^Show .* on the stage$/ })
		.first()
		.click();
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
});

test('reports are saved as files', async ({ page }) => {
	await page.goto('/p/harl-quay/checks');
	await expect(page.getByRole('status').filter({ hasText: '64 hold' })).toBeVisible();
	for (const [kind, name, inside] of [
		['JUnit XML', 'harl-quay.junit.xml', '<testsuites name="frelk" tests="64"'],
		['CSV', 'harl-quay.checks.csv', 'harl-quay,gaze,gaze,,holds,crank,crank,'],
		['Markdown', 'harl-quay.checks.md', '64 of 64 checks hold'],
		['HTML page', 'harl-quay.checks.html', '64 of 64 checks hold'],
	] as const) {
		const download = page.waitForEvent('download');
		await page.getByRole('button', { name: `Save the results as ${kind}` }).click();
		const file = await download;
		expect(file.suggestedFilename()).toBe(name);
		expect(await readFile(await file.path(), 'utf8')).toContain(inside);
	}
});

test('a project is checked over HTTP, and what is wrong is said', async ({ request }) => {
	const good = await request.post('/api/check', {
		data: await readFile(before),
		headers: { 'content-type': 'application/json' },
	});
	expect(good.status()).toBe(200);
	expect(await good.json()).toMatchObject({
		format: 'frelk-checks/1',
		passed: 28,
		failed: 4,
		projects: [{ project: 'harl-quay-before' }],
	});
	const broken = JSON.parse(await readFile(before, 'utf8'));
	broken.checks[0].query = 'gase';
	const bad = await request.post('/api/check', { data: broken });
	expect(bad.status()).toBe(422);
	expect(await bad.json()).toMatchObject({
		problems: [{ path: 'checks[0].query', message: 'no query "gase" (did you mean "gaze"?)' }],
	});
	expect(
		(
			await request.post('/api/check', {
				data: Buffer.from('not json'),
				headers: { 'content-type': 'application/json' },
			})
		).status(),
	).toBe(422);
	expect((await request.get('/api/check')).status()).toBe(405);
	const empty = { ...broken, checks: [] };
	expect(await (await request.post('/api/check', { data: empty })).json()).toMatchObject({
		error: 'there is no check to run',
	});
});

test('a file whose check names what is gone is imported without it', async ({ page }) => {
	await page.goto('/');
	const data = JSON.parse(await readFile(before, 'utf8'));
	data.checks.push({ id: 'ghost', query: 'gaze', expect: { selects: ['nobody'] } });
	await page
		.getByLabel('Project files to import')
		.setInputFiles({ name: 'ghost.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(data)) });
	const report = page.getByRole('alert', { name: 'Import' });
	await expect(report).toContainText('checks[32].expect.selects[0]: no object "nobody"');
	await report.getByRole('button', { name: 'Import without it' }).click();
	await expect(page).toHaveURL(/\/p\/harl-quay-before/);
});

test('what a change does is told against another project: edits, answers that change with the reason, checks', async ({
	page,
}) => {
	await page.goto('/');
	await page.getByRole('button', { name: 'Open a copy of Quay at Harl, before the fix' }).click();
	await page.getByRole('link', { name: 'Checks' }).click();
	await page.getByRole('tab', { name: 'Compare' }).click();
	await page.getByLabel('Compare with another project').selectOption({ label: 'Quay at Harl' });
	const found = page.getByRole('region', { name: 'What the change does' });
	await expect(found).toContainText('14 answers change; breaks 2 checks');
	await expect(found.getByRole('region', { name: 'Edits' })).toContainText('Lemon crate 4 moved by (-4.75, 0.85, 0) m');
	const answers = found.getByRole('region', { name: 'Changed answers' });
	await expect(answers.getByRole('listitem').first()).toContainText('Gangway crank (turn) → Lemon crate 4 (lift)');
	await expect(found.getByRole('region', { name: 'Breaks' })).toContainText('gaze');
	const download = page.waitForEvent('download');
	await found.getByRole('button', { name: 'Save as a page' }).click();
	expect(await readFile(await (await download).path(), 'utf8')).toContain('<h3>After: Lemon crate 4 (lift)</h3>');
	await answers.getByRole('link', { name: 'Heaving line' }).first().click();
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
	await expect(page.getByRole('region', { name: 'Answer' })).toContainText('Lemon crate 4');
});
