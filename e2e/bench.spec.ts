/** The bench, used the way a person does: by what is written on it, and by dragging on the picture. */

import { onRung } from './ladder';
import { expect, type Page, test } from './test';

async function openQuay(page: Page): Promise<void> {
	await page.goto('/p/harl-quay');
	await expect(page.getByRole('region', { name: 'Sentence' })).toBeVisible();
}

const answer = (page: Page) => page.getByRole('region', { name: 'Answer' });
const openQuery = (page: Page, name: RegExp) =>
	page.getByRole('navigation', { name: 'Queries' }).getByRole('button', { name }).click();

test('the first visit has the example ready, with a query already answered', async ({ page }) => {
	await page.goto('/');
	await page.getByRole('link', { name: /Quay at Harl/ }).click();
	await expect(answer(page)).toContainText('Gangway crank');
	await expect(answer(page)).toContainText('Turn the crank · turn');
	// Every other object has its reason.
	await expect(await onRung(page, 'Tags', 'Bow crank')).toContainText('has none of crank, cleat, load');
});

test('dragging the cursor in the eye changes the answer while the hand moves', async ({ page }) => {
	await openQuay(page);
	await openQuery(page, /Harbour pick/);
	await expect(answer(page)).toContainText('Gangway crank');
	const cursor = page.getByRole('slider', { name: 'Cursor' });
	const box = (await cursor.boundingBox())!;
	const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
	await page.mouse.move(x, y);
	await page.mouse.down();
	// The lemon crates stand to the right of the crank and lower down: 621, 305 px of 960 × 540.
	const scale = 296 / 960;
	await page.mouse.move(x + (560 - 480) * scale, y + (290 - 231) * scale, { steps: 6 });
	await expect(answer(page)).toContainText('Nothing is selected');
	await page.mouse.move(x + (621 - 480) * scale, y + (305 - 231) * scale, { steps: 6 });
	await expect(answer(page)).toContainText('Lemon crate 1');
	await page.mouse.up();
	await expect(await onRung(page, 'Missed', 'Gangway crank')).toContainText(/missed by [\d.]+ m/);
	// One drag is one step back.
	await page.getByRole('button', { name: 'Undo: Move the cursor' }).click();
	await expect(answer(page)).toContainText('Gangway crank');
	await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
});

test('the cursor moves by keyboard', async ({ page }) => {
	await openQuay(page);
	await openQuery(page, /Harbour pick/);
	const cursor = page.getByRole('slider', { name: 'Cursor' });
	await cursor.focus();
	await page.keyboard.press('ArrowRight');
	await page.keyboard.press('Shift+ArrowDown');
	await expect(cursor).toHaveAttribute('aria-valuetext', '481.0, 241.0 px');
});

test('an edit of the sentence is there after a reload', async ({ page }) => {
	await openQuay(page);
	const sentence = page.getByRole('region', { name: 'Sentence' });
	await sentence.getByRole('button', { name: 'Length: 4 m' }).click();
	const length = page.getByRole('textbox', { name: 'Length, m' });
	await length.fill('1.5*2');
	await length.press('Enter');
	await expect(answer(page)).toContainText('Nothing is selected');
	await page.keyboard.press('Escape');
	await sentence.getByRole('button', { name: 'Layers to choose from: Fittings or Cargo' }).click();
	await page.getByRole('checkbox', { name: 'Folk' }).check();
	await page.keyboard.press('Escape');
	await expect(page.getByRole('banner').getByRole('status')).toHaveText('Saved');
	await page.waitForTimeout(900);
	await page.reload();
	await expect(sentence.getByRole('button', { name: 'Length: 3 m' })).toBeVisible();
	await expect(sentence.getByRole('button', { name: 'Layers to choose from: Fittings, Cargo or Folk' })).toBeVisible();
});

test('an object is picked on the stage and moved on the ground, and the answers follow', async ({ page }) => {
	await openQuay(page);
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	const card = page.getByRole('region', { name: 'Card: Gangway crank' });
	await expect(card).toBeVisible();
	const place = card.getByRole('textbox', { name: 'X', exact: true });
	await expect(place).toHaveValue('0.45');
	// The crank's post is just under its mark on the stage, wherever the name stands.
	const stage = (await page.getByRole('application', { name: 'Scene' }).boundingBox())!;
	const at = await page.evaluate(() => {
		const text = [...document.querySelectorAll('svg text')].find((t) => t.textContent === 'Gangway crank')!;
		const mark = text.parentElement!.querySelector('rect')!.getBoundingClientRect();
		return { x: mark.left + mark.width / 2, y: mark.top + mark.height / 2 + 24 };
	});
	await page.mouse.move(at.x, at.y);
	await page.mouse.down();
	await page.mouse.move(at.x + 80, at.y - 50, { steps: 8 });
	await page.mouse.up();
	expect(at.x).toBeGreaterThan(stage.x);
	await expect(place).not.toHaveValue('0.45');
	await expect(answer(page)).toContainText('Nothing is selected');
	await page.keyboard.press('Control+z');
	await expect(answer(page)).toContainText('Gangway crank');
	await page.keyboard.press('Control+Shift+z');
	await expect(answer(page)).toContainText('Nothing is selected');
	await expect(await onRung(page, 'Missed', 'Gangway crank')).toContainText('missed by');
});

test('a tie is named, and broken by a rule', async ({ page }) => {
	await openQuay(page);
	await openQuery(page, /Reach/);
	await expect(answer(page)).toContainText('Tie');
	await expect(answer(page)).toContainText('Port cleat');
	await page.getByRole('button', { name: /^Choice:/ }).click();
	await page.getByRole('button', { name: 'first in the file' }).click();
	await expect(answer(page)).toContainText('Port cleat');
	await expect(answer(page)).not.toContainText('Tie');
});

test('a moment shows what changes, and the checks that fail are counted', async ({ page }) => {
	await openQuay(page);
	await openQuery(page, /Everything/);
	await expect(answer(page)).not.toContainText('Quay bell');
	await page.getByRole('combobox', { name: 'Moment' }).selectOption({ label: 'The left-over box is cleared' });
	await expect(answer(page)).toContainText('Quay bell');
	await expect(page.getByRole('banner')).toContainText('64 hold');
	await page.getByRole('combobox', { name: 'Moment' }).selectOption({ label: 'Scene as laid out' });
	await openQuery(page, /Gaze/);
	await page.getByRole('region', { name: 'Sentence' }).getByRole('button', { name: 'Length: 4 m' }).click();
	await page.getByRole('textbox', { name: 'Length, m' }).fill('1');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('banner')).toContainText(/\d fail/);
});

test('a refused edit says why and changes nothing', async ({ page }) => {
	await openQuay(page);
	await expect(answer(page)).toContainText('Gangway crank');
	await page.keyboard.press('Control+k');
	const find = page.getByRole('dialog', { name: 'Find' });
	await find.getByRole('combobox').fill('object gangway');
	await find
		.getByRole('option', { name: /^Gangway(?! crank)/ })
		.first()
		.click();
	const card = page.getByRole('region', { name: 'Card: Gangway' });
	await card.getByText('More', { exact: true }).click();
	// The crank hangs on the gangway.
	await card.getByLabel('Hangs on').selectOption({ label: 'Gangway crank' });
	await expect(page.getByRole('alert')).toContainText('round in a circle');
	await expect(card.getByLabel('Hangs on')).toHaveValue('');
	await page.getByRole('button', { name: 'All right' }).click();
	// A size of nothing is refused where it is typed.
	await card.getByLabel('ramp width').fill('0');
	await card.getByLabel('ramp width').press('Enter');
	await expect(card.getByRole('alert')).toContainText('at least 0.001');
});
