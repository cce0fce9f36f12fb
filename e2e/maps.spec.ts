/** Maps: over the eye and the ground while one works, and kept, with their checks. */
import { readFileSync } from 'node:fs';
import { expect, type Page, test } from './test';

const answer = (page: Page) => page.getByRole('region', { name: 'Answer' });
const maps = (page: Page) => page.getByRole('region', { name: 'Maps' });
const openQuery = (page: Page, name: RegExp) =>
	page.getByRole('navigation', { name: 'Queries' }).getByRole('button', { name }).click();
async function openMaps(page: Page) {
	await page.getByRole('link', { name: /^Checks/ }).click();
	await page.getByRole('tab', { name: 'Maps' }).click();
}
/** The width of the widest circle of an object, as its row has it. */
const widest = async (page: Page, name: string): Promise<number> =>
	Number(
		/([\d.]+)( !)?$/.exec(
			(await maps(page)
				.getByRole('row', { name: new RegExp(`^${name}`) })
				.getByRole('cell')
				.nth(2)
				.textContent()) ?? '',
		)?.[1],
	);

test('the smallest target is opened, helped until it is wide enough, kept, and broken again', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await openMaps(page);
	// The smallest stands first; never selected is told with the reason.
	await expect(maps(page).getByRole('row').nth(1)).toContainText('Port cleat');
	await expect(maps(page).getByRole('row').nth(1)).toContainText('18.0 !');
	await expect(maps(page).getByRole('region', { name: 'Never selected' })).toContainText('Quay bell');
	const before = await widest(page, 'Starboard cleat');
	expect(before).toBeLessThan(24);
	// Into it: the bench opens with the cursor just there.
	const picture = maps(page).getByRole('button', { name: /^Map Harbour pick/ });
	const box = (await picture.boundingBox()) as { x: number; y: number; width: number; height: number };
	await page.mouse.move(box.x + (60 / 160) * box.width, box.y + (57 / 90) * box.height);
	await expect(maps(page)).toContainText('Port cleat');
	await page.mouse.down();
	await page.mouse.up();
	await expect(answer(page)).toContainText('Port cleat');
	// Helped from farther off.
	const helped = async (px: string) => {
		await page
			.getByRole('region', { name: 'Sentence' })
			.getByRole('button', { name: /^Aim assist/ })
			.click();
		await page.getByRole('textbox', { name: 'within, px' }).fill(px);
		await page.keyboard.press('Enter');
		await page.keyboard.press('Escape');
	};
	await helped('30');
	await openMaps(page);
	await expect.poll(() => widest(page, 'Starboard cleat')).toBeGreaterThan(40);
	await maps(page).getByRole('button', { name: 'Keep what Starboard cleat has as a check' }).click();
	await expect(maps(page).getByRole('button', { name: 'Keep what Starboard cleat has as a check' })).toBeDisabled();
	await page.getByRole('tab', { name: 'Board' }).click();
	await expect(page.getByRole('region', { name: 'Checks over time' })).toContainText(
		/holds Starboard cleat at least [\d.]+ px wide/,
	);
	await page.getByRole('link', { name: 'Bench' }).click();
	await helped('4');
	await page.getByRole('link', { name: /^Checks/ }).click();
	await expect(page.getByRole('region', { name: 'Checks over time' })).toContainText(
		/fails Starboard cleat at least [\d.]+ px wide/,
	);
});

test('a map is made and taken back, held against itself without a part, and saved', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await openMaps(page);
	await maps(page).getByRole('button', { name: 'New map of Gaze' }).click();
	await expect(maps(page).getByRole('button', { name: /^Map Gaze, map: \d+ objects/ })).toBeVisible();
	await page.keyboard.press('Control+z');
	await expect(maps(page).getByRole('button', { name: /^Map Harbour pick/ })).toBeVisible();
	for (const [kind, end] of [
		['PNG', 'pick-map.png'],
		['SVG', 'pick-map.svg'],
		['CSV', 'pick-map.csv'],
	] as const) {
		const coming = page.waitForEvent('download');
		await maps(page)
			.getByRole('button', { name: `Save the map as ${kind}` })
			.click();
		const download = await coming;
		expect(download.suggestedFilename()).toBe(end);
		if (kind !== 'PNG') continue;
		// The picture is twice as large as the SVG, and as high: with its legend.
		const bytes = readFileSync(await download.path());
		const svg = maps(page).getByRole('button', { name: 'Save the map as SVG' });
		const [saved] = await Promise.all([page.waitForEvent('download'), svg.click()]);
		const [, w, h] = /width="(\d+)" height="([\d.]+)"/.exec(readFileSync(await saved.path(), 'utf8')) ?? [];
		expect(Math.abs(bytes.readUInt32BE(16) - 2 * Number(w))).toBeLessThanOrEqual(2);
		expect(Math.abs(bytes.readUInt32BE(20) - 2 * Number(h))).toBeLessThanOrEqual(2);
		expect(Number(h)).toBeGreaterThan(360 + 10 * 16);
	}
	// On paper it is light, whatever the screen is.
	await page.getByRole('button', { name: 'Switch to the dark theme' }).click();
	const map = maps(page).getByRole('button', { name: /^Map Harbour pick/ });
	// Lines between areas are the darkest on paper and the lightest on a dark screen; so is what the camera sees beneath.
	const line = () =>
		map.locator('canvas').evaluate((canvas: HTMLCanvasElement) => {
			const { data } = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height) ?? { data: [] };
			for (let i = 0; i < data.length; i += 4)
				if (data[i + 3] === 255 && (data[i] === 20 || data[i] === 231)) return data[i];
			return null;
		});
	const beneath = () =>
		map
			.locator('svg path[fill^="light-dark"]')
			.first()
			.evaluate((path) => Math.max(...(getComputedStyle(path).fill.match(/\d+/g) ?? []).map(Number)));
	await expect.poll(line).toBe(231);
	expect(await beneath()).toBeLessThan(130);
	await page.emulateMedia({ media: 'print' });
	await expect.poll(line).toBe(20);
	expect(await beneath()).toBeGreaterThan(180);
	await expect(page.locator('body')).toHaveCSS('background-color', 'rgb(238, 242, 243)');
	await page.emulateMedia({ media: 'screen' });
	await expect.poll(line).toBe(231);
	await maps(page).getByRole('button', { name: 'Compare…' }).click();
	await expect(maps(page).getByRole('combobox', { name: 'Compare with' })).toHaveValue('without assist');
	await expect(maps(page).getByRole('table', { name: 'What changed hands' })).toContainText('Starboard cleat');
	await maps(page).getByRole('combobox', { name: 'Compare with' }).selectOption({ label: 'without its range' });
	await expect(maps(page).getByRole('table', { name: 'What changed hands' })).toContainText('Quay bell');
	await maps(page).getByRole('button', { name: 'Compare…' }).click();
	// From what it never selects to what would.
	await maps(page).getByRole('button', { name: 'What would select Quay bell' }).click();
	await expect(page.getByRole('region', { name: 'Remedies' })).toContainText('To select Quay bell');
});

test('the map of a query lies over the eye and follows what is moved; that of an asker lies on the ground', async ({
	page,
}) => {
	await page.goto('/p/harl-quay');
	await openQuery(page, /^Harbour pick/);
	const eye = page.getByRole('figure', { name: /^Eye/ });
	await eye.getByRole('button', { name: 'Map' }).click();
	await expect(eye.getByRole('status')).toContainText('Lemon crate 3');
	// Without its range the bell can be picked too: the map says so at once.
	await page
		.getByRole('region', { name: 'Sentence' })
		.getByRole('button', { name: /^Range/ })
		.click();
	await page.getByRole('textbox', { name: 'max, m' }).fill('30');
	await page.keyboard.press('Enter');
	await page.keyboard.press('Escape');
	await expect(eye.getByRole('status')).toContainText('Ticket clerk');
	// Of a ray: what every direction would select.
	await openQuery(page, /^Gaze/);
	await expect(eye.getByRole('status')).toContainText('Gangway crank');
	await eye.getByRole('button', { name: 'Map' }).click();
	await expect(eye.getByRole('status')).toHaveCount(0);
	// Of an asker: where to stand, by heading.
	await openQuery(page, /^Reach/);
	const stage = page.getByRole('region', { name: 'Stage' });
	await stage.getByRole('button', { name: 'Floor map' }).click();
	await expect(stage.getByText('Where to stand')).toBeVisible();
	const rose = stage.getByRole('radiogroup', { name: 'Heading' });
	await expect(rose.getByRole('radio', { name: 'best of all headings' })).toBeChecked();
	await rose.getByRole('radio', { name: 'best of all headings' }).focus();
	await page.keyboard.press('ArrowRight');
	await expect(rose.getByRole('radio', { name: 'as it stands' })).toBeChecked();
	await expect(stage.getByText('Where to stand')).toBeVisible();
});

test('may it stand here: the way out, set down, where it fits, and what a thing is reached from', async ({ page }) => {
	await page.goto('/');
	await page.getByRole('button', { name: 'Empty space scene' }).click();
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
	for (const thing of ['floor', 'shelf with five things', 'ghost']) {
		await page.getByRole('button', { name: 'Add', exact: true }).click();
		await page.getByRole('button', { name: `Drop a ${thing}` }).click();
	}
	// Beside what was in hand there is room, and a further thing makes none.
	await expect(answer(page)).toContainText('There is room');
	await expect(answer(page)).toContainText('borne everywhere: 5 of 5');
	const card = page.getByRole('region', { name: /^Card/ });
	const put = async (label: string, value: string) => {
		await card.getByLabel(label, { exact: true }).fill(value);
		await card.getByLabel(label, { exact: true }).press('Enter');
	};
	await put('X', '0.3');
	await put('Z', '0.4');
	await expect(answer(page)).toContainText('There is no room');
	await expect(answer(page)).toContainText('Shelf is in the way0.1 m deep');
	await answer(page).getByRole('button', { name: 'Move it out' }).click();
	await expect(answer(page)).toContainText('There is room');
	await page.getByRole('button', { name: 'Undo: Move it out' }).click();
	await expect(answer(page)).toContainText('There is no room');
	await put('Z', '3');
	await put('Y', '1');
	await expect(answer(page)).toContainText('1 m above what could bear it');
	await answer(page).getByRole('button', { name: 'Set it down' }).click();
	await expect(answer(page)).toContainText('There is room');

	// Kept as a check like any other answer.
	await answer(page).getByRole('button', { name: 'Keep this answer' }).click();
	await put('Z', '0.4');
	await expect(answer(page)).toContainText('A check fails: wanted room, got in the way');

	await page.getByRole('button', { name: 'Floor map' }).click();
	await expect(page.getByText(/^Fits at \d+ % of the places$/)).toBeVisible();
	// Whatever is looked at of what is in the way, it is put where it fits.
	await page.getByLabel('In the way').selectOption({ index: 1 });
	await page.getByRole('button', { name: 'Put it at the nearest place' }).click();
	await expect(answer(page)).toContainText('There is room');

	await page.goto('/p/harl-quay');
	await openQuery(page, /^Reach/);
	await page.getByRole('button', { name: 'Floor map' }).click();
	const reached = page.getByLabel('Reached from here');
	const crate = reached.getByRole('option', { name: /^Lemon crate 3, \d+ %$/ });
	await reached.selectOption({ label: (await crate.textContent()) ?? '' });
	await page.getByRole('button', { name: 'Stand at the nearest place' }).click();
	await expect(answer(page)).toContainText('Lemon crate 3');
});
