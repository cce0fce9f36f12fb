// Takes the pictures in docs/screenshots from the demo data. Run while the application serves: node scripts/screenshots.mjs [address [name …]]
import { execFileSync } from 'node:child_process';
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

/** Those named, or all. */
const wanted = process.argv.slice(3);

async function picture(name, theme, path, act) {
	if (wanted.length > 0 && !wanted.includes(name)) return;
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: theme });
	await page.addInitScript(() => {
		localStorage.setItem('frelk-walked', 'yes');
		// The edges are drawn smooth, as with a graphics card.
		const { getParameter } = WebGL2RenderingContext.prototype;
		const UNMASKED_RENDERER = 0x9246;
		WebGL2RenderingContext.prototype.getParameter = function (name) {
			return name === UNMASKED_RENDERER ? 'a card' : getParameter.call(this, name);
		};
	});
	await page.goto(new URL(path, address).href);
	await page.waitForTimeout(2000);
	await act?.(page);
	await page.getByText('drawing…').waitFor({ state: 'hidden' });
	await page.waitForTimeout(600);
	await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
	await page.close();
}

const openQuery = (name) => (page) =>
	page.getByRole('navigation', { name: 'Queries' }).getByRole('button', { name }).click();

/** A row of the rung Sight, all of which is unfolded: where there is no room for it, it is not. */
async function onSight(page, name) {
	const sight = page.getByRole('complementary', { name: 'Ladder' }).getByRole('region', { name: 'Sight', exact: true });
	const header = sight.getByRole('heading').getByRole('button');
	const row = sight.getByRole('button', { name: new RegExp(`^${name}`) });
	await header.waitFor();
	if ((await row.count()) === 0) await header.click();
	return row;
}

await picture('home', 'light', '/');
// Once all checks are known.
await picture('bench-light', 'light', '/p/harl-quay', (page) =>
	page.getByRole('banner').getByText('64 hold').waitFor(),
);
await picture('bench-dark', 'dark', '/p/harl-quay', async (page) => {
	await openQuery(/Everything/)(page);
	await page.waitForTimeout(600);
	const bell = await onSight(page, 'Quay bell');
	await bell.hover();
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
await picture('checks-full', 'dark', '/p/harl-quay/checks', async (page) => {
	await page.getByRole('banner').getByText('64 hold').waitFor();
	await page.getByRole('row').nth(3).getByRole('button').first().click();
});
await picture('checks-empty', 'light', '/', async (page) => {
	await page.getByRole('button', { name: 'Empty space scene' }).click();
	await page.getByRole('link', { name: 'Checks' }).click();
});
await picture('checks-failing', 'light', '/', async (page) => {
	await page.getByRole('button', { name: /before the fix/ }).click();
	await page.getByRole('link', { name: 'Checks' }).click();
	await page
		.getByRole('status')
		.filter({ hasText: /[0-9] fail/ })
		.waitFor();
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
await picture('why-light', 'light', '/p/harl-quay?query=in-sight', async (page) => {
	await onSight(page, 'Quay bell');
	await page.getByRole('button', { name: 'What would select Quay bell' }).click();
	await page.getByText('Each was tried').waitFor();
	await page.getByRole('region', { name: 'Remedies' }).getByRole('listitem').first().hover();
	await page.waitForTimeout(600);
});
await picture('findings-light', 'light', '/p/harl-quay/checks', async (page) => {
	await page.getByRole('tab', { name: 'Findings' }).click();
	await page.getByText(/^\d+ findings$/).waitFor();
});
await picture('maps-light', 'light', '/p/harl-quay/checks', async (page) => {
	await page.getByRole('tab', { name: 'Maps' }).click();
	await page.getByText('160 × 90 cells').waitFor();
	await page.getByText(/^10 never selected$/).waitFor();
});
await picture('map-ground-dark', 'dark', '/p/harl-quay?query=reach', async (page) => {
	await page.getByRole('button', { name: 'Floor map' }).click();
	await page.getByText('Where to stand').waitFor();
});
const game = execFileSync(process.execPath, [join(root, 'examples/stand-in-game.mjs')]);
await picture('trace-light', 'light', '/p/deck-from-above/time', async (page) => {
	await page
		.getByLabel('Trace to open')
		.setInputFiles({ name: 'deck.trace.jsonl', mimeType: 'application/jsonl', buffer: game });
	await page.getByText('87 differ').first().waitFor();
	await page.getByRole('button', { name: 'Next difference' }).click();
	await page.waitForTimeout(800);
	await page.getByRole('tab', { name: 'Differences' }).click();
});
await picture('level-light', 'light', '/', async (page) => {
	await page.getByLabel('Project files to import').setInputFiles(join(root, 'examples/rope-yard.gltf'));
	await page.getByRole('button', { name: 'Add a rule' }).click();
	await page.getByLabel('Rule 1: what it matches').fill('*_trigger');
	await page.getByLabel('Rule 1: layer').fill('zones');
	await page.getByLabel('Rule 1: tags').fill('zone');
	await page.getByLabel('Rule 1: role').selectOption('sensor');
	await page.getByRole('button', { name: 'Add a rule' }).click();
	await page.getByLabel('Rule 2: what it matches').fill('Crate_*');
	await page.getByLabel('Rule 2: layer').fill('cargo');
	await page.getByLabel('Rule 2: shape').selectOption('box');
	await page.waitForTimeout(1500);
	await page.getByRole('button', { name: /Barrel_02/ }).click();
	await page.waitForTimeout(800);
});
await browser.close();
