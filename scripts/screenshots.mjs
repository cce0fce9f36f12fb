// Takes the pictures in docs/screenshots from the demo data. Run while the application serves: node scripts/screenshots.mjs [address]
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { root } from './lib.mjs';

const address = process.argv[2] ?? 'http://127.0.0.1:4173/';
const executablePath =
	process.env.CHROMIUM ??
	['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find((path) => existsSync(path));
const browser = await chromium.launch({
	...(executablePath ? { executablePath } : {}),
	args: ['--no-sandbox', '--use-gl=angle', '--use-angle=swiftshader', '--enable-unsafe-swiftshader'],
});

async function picture(name, theme, path, act) {
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: theme });
	await page.addInitScript(() => localStorage.setItem('frelk-walked', 'yes'));
	await page.goto(new URL(path, address).href);
	await page.waitForTimeout(2000);
	await act?.(page);
	await page.waitForTimeout(600);
	await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
	await page.close();
}

const openQuery = (name) => (page) =>
	page.getByRole('navigation', { name: 'Queries' }).getByRole('button', { name }).click();

await picture('home', 'light', '/');
await picture('bench-light', 'light', '/p/harl-quay');
await picture('bench-dark', 'dark', '/p/harl-quay', async (page) => {
	await openQuery(/Everything/)(page);
	await page
		.getByRole('complementary', { name: 'Ladder' })
		.getByRole('button', { name: /^Quay bell/ })
		.hover();
});
await picture('hand-light', 'light', '/p/harl-quay', async (page) => {
	await page.keyboard.press('Control+k');
	await page.getByRole('dialog').getByRole('combobox').fill('object gangway');
	await page
		.getByRole('option', { name: /^Gangway(?! crank)/ })
		.first()
		.click();
});
await picture('filters-light', 'light', '/p/harl-quay/filters');
await picture('checks-full', 'dark', '/p/harl-quay/checks', (page) =>
	page.getByRole('row').nth(3).getByRole('button').first().click(),
);
await picture('checks-empty', 'light', '/', async (page) => {
	await page.getByRole('button', { name: 'Empty space scene' }).click();
	await page.getByRole('link', { name: 'Checks' }).click();
});
await picture('checks-failing', 'light', '/', async (page) => {
	await page.getByRole('button', { name: /before the fix/ }).click();
	await page.getByRole('link', { name: 'Checks' }).click();
	await page.getByText('2 checks fail').waitFor();
	await page.waitForTimeout(800);
	await page.getByRole('region', { name: 'What fails' }).getByRole('button', { name: /^Gaze/ }).first().click();
});
await picture('deck-dark', 'dark', '/p/deck-from-above', async (page) => openQuery(/Boathook/)(page));
await picture('guide', 'light', '/guide');
await picture('time-light', 'light', '/p/harl-quay/time', (page) =>
	page.getByRole('slider', { name: 'Instant of the run' }).fill('2.5'),
);
await picture('flat-dark', 'dark', '/p/pursers-desk');
await picture('import-failing', 'light', '/', async (page) => {
	const broken = {
		format: 'frelk/1',
		id: 'broken',
		name: 'Broken',
		scene: {
			kind: 'space',
			layers: [{ id: 'walls' }],
			tags: [],
			objects: [{ id: 'crate', layer: 'walll' }],
			cameras: [],
		},
		queries: [{ id: 'gaze', kind: 'rya' }],
	};
	await page.getByLabel('Project files to import').setInputFiles({
		name: 'broken.frelk.json',
		mimeType: 'application/json',
		buffer: Buffer.from(JSON.stringify(broken)),
	});
	await page.getByRole('alert', { name: 'Import' }).waitFor();
});
await browser.close();
