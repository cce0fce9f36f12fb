/** Projects in and out: files good and broken, unknown addresses, deleting and taking it back. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from './test';

const quay = join(import.meta.dirname, '../examples/harl-quay.frelk.json');

test('a broken file says what is wrong and where, and nothing is lost', async ({ page }) => {
	await page.goto('/');
	const data = JSON.parse(await readFile(quay, 'utf8'));
	data.scene.objects[3].layer = 'walll';
	data.queries[1].cursor = 'middle';
	const input = page.getByLabel('Project files to import');
	await input.setInputFiles({
		name: 'broken.frelk.json',
		mimeType: 'application/json',
		buffer: Buffer.from(JSON.stringify(data)),
	});
	const report = page.getByRole('alert', { name: 'Import' });
	await expect(report).toContainText('broken.frelk.json was not imported; nothing was changed.');
	await expect(report).toContainText('queries[1].cursor: expected a list of 2 numbers, got "middle"');
	await input.setInputFiles({ name: 'half.json', mimeType: 'application/json', buffer: Buffer.from('{\n"format": ') });
	await expect(report).toContainText('line 2, column');
	await expect(page.getByRole('link', { name: /Quay at Harl/ })).toBeVisible();
});

test('good files come in beside bad ones, and one alone opens', async ({ page }) => {
	await page.goto('/');
	const good = await readFile(quay);
	const input = page.getByLabel('Project files to import');
	await input.setInputFiles([
		{ name: 'good.json', mimeType: 'application/json', buffer: good },
		{ name: 'bad.json', mimeType: 'application/json', buffer: Buffer.from('[]') },
	]);
	await expect(page.getByRole('alert', { name: 'Import' })).toContainText('1 project imported.');
	await expect(page.getByRole('link', { name: /Quay at Harl/ })).toHaveCount(2);
	await input.setInputFiles({ name: 'good.json', mimeType: 'application/json', buffer: good });
	await expect(page).toHaveURL(/\/p\/harl-quay-3$/);
});

test('an exported file is the project, and deleting can be taken back', async ({ page }) => {
	await page.goto('/');
	const download = page.waitForEvent('download');
	await page.getByRole('button', { name: 'Export Quay at Harl' }).click();
	const file = await download;
	expect(file.suggestedFilename()).toBe('harl-quay.frelk.json');
	expect(JSON.parse(await readFile((await file.path())!, 'utf8'))).toEqual(JSON.parse(await readFile(quay, 'utf8')));
	await page.getByRole('button', { name: 'Delete Quay at Harl' }).click();
	await expect(page.getByRole('link', { name: /Quay at Harl/ })).toHaveCount(0);
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(page.getByRole('link', { name: /Quay at Harl/ })).toHaveCount(1);
});

test('an unknown project and an unknown page say what happened and how to go on', async ({ page }) => {
	await page.goto('/p/never-was');
	await expect(page.getByRole('heading')).toHaveText('There is no project “never-was” in this browser');
	await page.getByRole('link', { name: 'Go to all projects' }).click();
	await expect(page.getByRole('heading', { name: 'Projects' })).toBeVisible();
	await page.goto('/no/such/page');
	await expect(page.getByRole('heading')).toHaveText('There is nothing at this address');
});

test('a new scene is empty, says so, and takes a query', async ({ page }) => {
	await page.goto('/');
	await page.getByRole('button', { name: 'New flat scene' }).click();
	await expect(page.getByText('This scene is empty.')).toBeVisible();
	await page.getByRole('button', { name: 'New query' }).click();
	await page.getByRole('button', { name: /^ray/ }).click();
	await expect(page.getByRole('region', { name: 'Answer' })).toContainText('Nothing is selected');
	await expect(page.getByRole('region', { name: 'Sentence' })).toContainText('along (1, 0, 0)');
});
