/** From an empty scene to an answer, by mouse and keys, counted; and what the hand meets on the way. */

import { ladder, onRung } from './ladder';
import { expect, type Page, test } from './test';

const stage = (page: Page) => page.getByRole('application', { name: 'Scene' });
const answer = (page: Page) => page.getByRole('region', { name: 'Answer' });
const card = (page: Page) => page.getByRole('region', { name: /^Card/ });
const sentence = (page: Page) => page.getByRole('region', { name: 'Sentence' });

type At = [across: number, down: number];

/** A hand that counts: clicks of the mouse, with strokes, and fields that are typed. */
function hand(page: Page) {
	const done = { clicks: 0, typed: 0 };
	const on = async ([x, y]: At): Promise<At> => {
		const box = await stage(page).boundingBox();
		if (!box) throw new Error('no stage');
		return [box.x + x * box.width, box.y + y * box.height];
	};
	return {
		done,
		click: async (role: 'button' | 'checkbox' | 'option', name: string | RegExp, exact = typeof name === 'string') => {
			done.clicks++;
			await page.getByRole(role, { name, exact }).first().click();
		},
		press: async (at: At) => {
			done.clicks++;
			await page.mouse.click(...(await on(at)));
		},
		stroke: async (from: At, to: At) => {
			done.clicks++;
			await page.mouse.move(...(await on(from)));
			await page.mouse.down();
			await page.mouse.move(...(await on(to)), { steps: 6 });
			await page.mouse.up();
		},
		field: async (name: string, text: string) => {
			done.clicks++;
			done.typed++;
			const field = page.getByRole('textbox', { name, exact: true });
			await field.fill(text);
			await field.press('Enter');
		},
	};
}

test('a small workshop and its first answer are made from nothing in under 60 clicks', async ({ page }) => {
	test.setTimeout(120_000);
	await page.goto('/');
	const began = Date.now();
	const { click, press, stroke, field, done } = hand(page);
	await click('button', 'New space scene');
	await expect(stage(page)).toBeVisible();
	// Two walls, drawn from end to end on the floor there is.
	await click('button', 'Add');
	await click('button', /^wall/);
	await stroke([0.43, 0.26], [0.86, 0.36]);
	await click('button', 'Add');
	await click('button', /^wall/);
	await stroke([0.41, 0.28], [0.14, 0.5]);
	// A bench with five things on it, and a sixth drawn onto its top.
	await click('button', 'Add');
	await click('button', /^shelf with five things/);
	await press([0.6, 0.42]);
	await expect(card(page)).toBeVisible();
	await field('Name', 'Bench');
	await click('button', 'Add');
	await click('button', /^sphere/);
	await press([0.605, 0.365]);
	await field('Name', 'Mallet');
	// Where it stands is on the bench, and not on the floor behind it.
	await expect(page.getByRole('textbox', { name: 'Y', exact: true })).toHaveValue('0.9');
	await field('body radius, r', '0.2');
	await field('Prompt', 'Take the mallet');
	await field('Action', 'take');
	// A layer and a tag of their own, where they are chosen.
	done.clicks++;
	await page.getByRole('combobox', { name: 'Layer' }).selectOption({ label: 'new layer…' });
	await page.keyboard.type('Tools');
	await page.keyboard.press('Enter');
	await click('button', /^Tags: none/);
	await page.keyboard.type('mallet');
	await page.keyboard.press('Enter');
	await page.keyboard.press('Escape');
	await expect(page.getByRole('button', { name: 'Tags: mallet' })).toBeVisible();
	// The first query: drawn from the person to the mallet.
	const ring = await stage(page).locator('circle[r="11"]').boundingBox();
	if (!ring) throw new Error('nothing is in hand');
	await click('button', 'New query');
	await click('button', 'Draw a ray on the stage');
	await press([0.462, 0.5]);
	done.clicks++;
	await page.mouse.click(ring.x + ring.width / 2, ring.y + ring.height / 2);
	await expect(sentence(page)).toContainText('From the focus of Person toward the focus of Mallet');
	await click('button', /^Layers to choose from/);
	await click('checkbox', 'All layers');
	await click('checkbox', 'Tools');
	await page.keyboard.press('Escape');
	console.log(`clicks: ${done.clicks}, typed: ${done.typed}, seconds: ${((Date.now() - began) / 1000).toFixed(0)}`);
	await expect(answer(page)).toContainText('Mallet');
	await expect(answer(page)).toContainText('Take the mallet · take');
	expect(done.clicks).toBeLessThan(60);
});

test('what is drawn stands on the face it was drawn on, and is carried from there to the floor and back', async ({
	page,
}) => {
	await page.goto('/');
	const { click, press, stroke } = hand(page);
	await click('button', 'New space scene');
	await click('button', 'Add');
	await click('button', /^box/);
	await press([0.5, 0.6]);
	await expect(card(page)).toBeVisible();
	const y = page.getByRole('textbox', { name: 'Y', exact: true });
	await expect(y).toHaveValue('0');
	await page.keyboard.press('Escape');
	await click('button', 'Add');
	await click('button', /^cylinder/);
	await press([0.5, 0.555]);
	await expect(y).toHaveValue('0.8');
	// Down to the floor, and up again.
	await stroke([0.5, 0.52], [0.3, 0.6]);
	await expect(y).toHaveValue('0');
	await page.keyboard.press('Control+z');
	await expect(y).toHaveValue('0.8');
});

test('a name gives the id, and the id can be given, with all that names it', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await page.getByRole('button', { name: 'New query' }).click();
	await page.getByRole('button', { name: /^ray/ }).click();
	await page.getByRole('textbox', { name: 'Name of the query' }).fill('Look ahead');
	await page.getByRole('textbox', { name: 'Name of the query' }).press('Enter');
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	await card(page).getByText('More', { exact: true }).click();
	const id = card(page).getByRole('textbox', { name: 'Id', exact: true });
	await id.fill('deckhand');
	await id.press('Enter');
	await expect(card(page).getByRole('alert')).toHaveText('deckhand is taken');
	await id.fill('windlass');
	await id.press('Enter');
	await expect(id).toHaveValue('windlass');
	await expect(page.getByText('64 hold')).toBeVisible();
	await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
	await page.waitForTimeout(800);
	await page.reload();
	await expect(page.getByText('64 hold')).toBeVisible();
	// Undo outlives the reload.
	await page.getByRole('button', { name: 'Undo: Id crank becomes windlass' }).click();
	await page.getByRole('button', { name: 'Undo: Name of Ray 1' }).click();
	await expect(page.getByRole('navigation', { name: 'Queries' })).toContainText('Ray 1');
});

test('an answer that a check here does not want is asked about before it is kept', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(page.getByText('64 hold')).toBeVisible();
	await sentence(page).getByRole('button', { name: 'Length: 4 m' }).click();
	await page.getByRole('textbox', { name: 'Length, m' }).fill('2');
	await page.keyboard.press('Enter');
	await page.keyboard.press('Escape');
	await expect(answer(page)).toContainText('A check fails: wanted Gangway crank, got nothing');
	await answer(page).getByRole('button', { name: 'Keep this answer' }).click();
	await expect(answer(page).getByRole('alertdialog')).toContainText(
		'The check here wants Gangway crank. Both cannot hold.',
	);
	await answer(page).getByRole('button', { name: 'Replace', exact: true }).click();
	await expect(answer(page)).toContainText('kept: 1 check, as laid out');
	await expect(answer(page)).not.toContainText('A check fails');
});

test('what is typed before a window stands is the window’s', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await stage(page).focus();
	await page.route('**/*palette*', async (route) => {
		await new Promise((resolve) => setTimeout(resolve, 900));
		await route.continue();
	});
	await page.keyboard.press('Control+k');
	await page.keyboard.type('nbdr');
	await expect(page.getByRole('dialog', { name: 'Find' }).getByRole('combobox')).toHaveValue('nbdr');
	await page.keyboard.press('Escape');
	await expect(page.getByRole('button', { name: /^Gaze/ }).first()).toHaveAttribute('aria-current', 'true');
	await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
});

test('on the other views no key reaches what is in hand on the bench', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	await page.getByRole('link', { name: 'Filters' }).click();
	await expect(page.getByLabel('Name of layer Fittings')).toBeVisible();
	await page.locator('main').click({ position: { x: 5, y: 5 } });
	for (const key of ['d', 'g', 'h', 'Delete', 'Control+a', 'Delete', 'n', '.']) await page.keyboard.press(key);
	await expect(page.getByRole('dialog')).toHaveCount(0);
	await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
	await page.getByRole('link', { name: 'Bench' }).click();
	await expect(page.getByRole('region', { name: 'Card: Gangway crank' })).toBeVisible();
});

test('a pinned object keeps its verdict at the head of the ladder for every query', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await (await onRung(page, 'Tags', 'Bow crank')).hover();
	await ladder(page).getByRole('button', { name: 'Pin Bow crank' }).click();
	const pinned = ladder(page).getByRole('region', { name: 'Pinned' });
	await expect(pinned).toContainText('has none of crank, cleat, load');
	await page
		.getByRole('navigation', { name: 'Queries' })
		.getByRole('button', { name: /^Boathook swing/ })
		.click();
	await expect(pinned).toContainText('Bow crank');
	await expect(pinned).not.toContainText('has none of');
	await pinned.getByRole('button', { name: 'Take the pin out' }).first().click();
	await expect(pinned).toHaveCount(0);
});

/** A part of the page when the stage is drawn and nothing moves any more. */
async function atRest(page: Page, clip: { x: number; y: number; width: number; height: number }): Promise<Buffer> {
	await expect(page.locator('canvas[data-drawn]')).toBeAttached();
	let before = await page.screenshot({ clip });
	await expect
		.poll(async () => {
			const last = before;
			before = await page.screenshot({ clip });
			return before.equals(last);
		})
		.toBe(true);
	return before;
}

test('nothing is painted over the stage beside a list that is scrolled', async ({ page }) => {
	// So low that what can be added does not fit.
	await page.setViewportSize({ width: page.viewportSize()?.width ?? 1280, height: 480 });
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	const list = page.getByRole('dialog', { name: 'Add to the scene' });
	const box = (await list.boundingBox()) as { x: number; y: number; width: number; height: number };
	const clip = { x: box.x - 104, y: 230, width: 100, height: 220 };
	const before = await atRest(page, clip);
	const scrolled = await list.evaluate((element) => {
		const all = [element, ...element.querySelectorAll('*')];
		const one = all.find((e) => e.scrollHeight > e.clientHeight + 20 && getComputedStyle(e).overflowY !== 'visible');
		one?.scrollTo(0, 400);
		return one?.scrollTop ?? 0;
	});
	expect(scrolled).toBeGreaterThan(20);
	await page.waitForTimeout(200);
	expect((await page.screenshot({ clip })).equals(before)).toBe(true);
});

test('nothing is painted over the stage below a card that is scrolled', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	await page.getByRole('button', { name: 'Put the card over the queries' }).click();
	await card(page).getByText('More', { exact: true }).click();
	const box = (await card(page).boundingBox()) as { x: number; y: number; width: number; height: number };
	// Beside and below the card, over stage and axis.
	const clip = { x: box.x + box.width + 4, y: 300, width: 160, height: (page.viewportSize()?.height ?? 800) - 320 };
	const before = await atRest(page, clip);
	await card(page).evaluate((element) => element.scrollTo(0, 400));
	await page.waitForTimeout(200);
	expect((await page.screenshot({ clip })).equals(before)).toBe(true);
});

test('distances are measured between places, focuses and faces', async ({ page }) => {
	await page.goto('/');
	await page.getByRole('button', { name: 'New space scene' }).click();
	await stage(page).focus();
	await page.keyboard.press('e');
	const { stroke } = hand(page);
	await stroke([0.4, 0.5], [0.6, 0.55]);
	await expect(stage(page).getByText(/^[\d.]+ m {2}\(X [-\d.]+, Y 0, Z [-\d.]+\)$/)).toBeVisible();
	await page.keyboard.press('Escape');
	await expect(stage(page).getByText(/^[\d.]+ m {2}\(X/)).toHaveCount(0);
});

test('a swing is let go by one key, and says at each instant whom it hits', async ({ page }) => {
	await page.goto('/p/harl-quay?query=boathook-swing');
	const axis = page.getByRole('region', { name: 'Distance axis' });
	await expect(axis.getByRole('status')).toHaveText('the whole swing');
	await stage(page).focus();
	await page.keyboard.press('w');
	await expect(axis.getByRole('status')).toHaveText(/^0\.[1-9]\d* s: /);
	await axis.getByRole('slider', { name: 'Instant of the swing' }).fill('0.15');
	await expect(axis.getByRole('status')).toHaveText('0.15 s: hits Gull 1');
	await axis.getByRole('button', { name: 'All of it' }).click();
	await expect(axis.getByRole('status')).toHaveText('the whole swing');
});

test('by keyboard: to the first example, to a length, to an object moved by 10 cm, in under 12 keys each', async ({
	page,
}) => {
	let keys = 0;
	const press = async (key: string) => {
		keys++;
		await page.keyboard.press(key);
	};
	const done = (what: string) => {
		console.log(`${what}: ${keys} keys`);
		expect(keys).toBeLessThan(12);
		keys = 0;
	};
	await page.goto('/');
	await expect(page.getByRole('link', { name: 'Open it first' })).toBeVisible();
	const focused = () => page.evaluate(() => document.activeElement?.textContent ?? '');
	while ((await focused()) !== 'Open it first') await press('Tab');
	await press('Enter');
	await expect(answer(page)).toContainText('Gangway crank');
	done('to the first example');
	await press('Control+k');
	await expect(page.getByRole('combobox', { name: /^Find/ })).toBeFocused();
	for (const key of 'length') await press(key);
	await press('Enter');
	await expect(page.getByRole('textbox', { name: 'Length, m' })).toBeFocused();
	for (const key of ['5', 'Enter']) await press(key);
	await expect(sentence(page)).toContainText('5 m');
	done('to the length of the first query');
	await press('Escape');
	await expect(page.getByRole('dialog', { name: 'Length' })).toHaveCount(0);
	await expect(sentence(page).getByRole('button', { name: /^Length/ })).toBeFocused();
	keys = 0;
	await press('Control+k');
	await expect(page.getByRole('combobox', { name: /^Find/ })).toBeFocused();
	for (const key of 'quay b') await press(key);
	await press('Enter');
	const x = page.getByRole('textbox', { name: 'X', exact: true }).first();
	const before = Number(await x.inputValue());
	await expect(stage(page)).toBeFocused();
	await press('ArrowRight');
	await expect(x).toHaveValue(String(Number((before + 0.1).toFixed(6))));
	done('to an object moved by 10 cm');
	// Past the bar in two keys.
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await page.keyboard.press('Tab');
	await expect(page.getByRole('button', { name: 'Skip to the sentence' })).toBeFocused();
	await page.keyboard.press('Tab');
	await page.keyboard.press('Enter');
	await expect(stage(page)).toBeFocused();
	// Along the queries by arrow keys.
	await page.getByRole('button', { name: /^Gaze, ray/ }).focus();
	await page.keyboard.press('ArrowDown');
	await expect(page.getByRole('button', { name: /^Harbour pick, pick/ })).toBeFocused();
});

test('Escape leaves one thing at a time: what is typed, the picker, the tool, the hand, the roster', async ({
	page,
}) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	const roster = page.getByRole('region', { name: 'Roster' });
	await stage(page).focus();
	await page.keyboard.press('r');
	await roster.getByRole('button', { name: /^Gangway crank/ }).click();
	await expect(card(page)).toBeVisible();
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	await page.getByRole('button', { name: /^box/ }).first().click();
	await expect(card(page)).toHaveCount(0);
	await sentence(page)
		.getByRole('button', { name: /^Length/ })
		.click();
	const length = page.getByRole('textbox', { name: 'Length, m' });
	await length.fill('77');
	await page.keyboard.press('Escape');
	await expect(page.getByRole('dialog', { name: 'Length' })).toBeVisible();
	await expect(length).toHaveValue('4');
	await page.keyboard.press('Escape');
	await expect(page.getByRole('dialog', { name: 'Length' })).toHaveCount(0);
	await page.keyboard.press('Escape');
	// The tool is gone, the card is back.
	await expect(card(page)).toBeVisible();
	await page.keyboard.press('Escape');
	await expect(card(page)).toHaveCount(0);
	await expect(roster).toBeVisible();
	await page.keyboard.press('Escape');
	await expect(roster).toHaveCount(0);
	await expect(sentence(page)).toContainText('up to 4 m');
	await page.keyboard.press('?');
	await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('what is in hand, and with it the card');
});

test('a camera is found in the roster, aimed on the stage and made the eye', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await stage(page).focus();
	await page.keyboard.press('r');
	const roster = page.getByRole('region', { name: 'Roster' });
	await roster.getByLabel('Search objects').fill('camera');
	await roster.getByRole('button').filter({ hasText: 'camera' }).first().click();
	const card = page.getByRole('region', { name: "Card: Deckhand's eye" });
	await expect(card).toBeVisible();
	await expect(page.getByRole('slider', { name: "What Deckhand's eye looks at" })).toBeVisible();
	// Aimed elsewhere the gaze goes elsewhere.
	await card.getByRole('combobox', { name: 'Aim it at an object' }).selectOption({ label: 'Port cleat' });
	await expect(answer(page)).toContainText('Port cleat');
	await page.keyboard.press('Control+z');
	await expect(answer(page)).toContainText('Gangway crank');
	const grip = page.getByRole('slider', { name: "Height Deckhand's eye looks at" });
	await grip.focus();
	for (let i = 0; i < 8; i++) await page.keyboard.press('Shift+ArrowUp');
	await expect(answer(page)).toContainText('Nothing is selected');
	await page.getByRole('button', { name: /^Undo: Height/ }).click();
	// Another camera, looked through while the query stays with its own.
	await page.keyboard.press('Escape');
	await page.keyboard.press('Control+k');
	await page.keyboard.type('add a camera');
	await page.keyboard.press('Enter');
	const other = page.getByRole('region', { name: /^Card: Camera \d/ });
	await other.getByRole('button', { name: 'Look through it' }).click();
	await expect(page.getByRole('figure', { name: /^Eye: Camera \d/ })).toBeVisible();
	await page.getByRole('button', { name: "Back to the query's own eye" }).click();
	await expect(page.getByRole('figure', { name: "Eye: Deckhand's eye" })).toBeVisible();
	// On the stage it is taken in hand by a click.
	await page.keyboard.press('Escape');
	await expect(other).toHaveCount(0);
	await page.getByRole('button', { name: 'Show all' }).click();
	await page.getByRole('button', { name: /^Camera: Camera \d/ }).click();
	await expect(other).toBeVisible();
});

test('put between two that lie at one depth, it is asked whether to set them apart', async ({ page }) => {
	await page.goto('/p/pursers-desk');
	const pile = page.getByRole('region', { name: 'Pile under the cursor' });
	await expect(pile).toContainText('level, 0.16 m');
	const rows = pile.getByRole('listitem');
	const third = ((await rows.nth(2).textContent()) ?? '').replace(/-?[\d.]+ m$/, '');
	await rows.nth(2).getByRole('button').focus();
	await page.keyboard.press('Alt+ArrowUp');
	const asked = page.getByRole('alertdialog', { name: 'They would tie' });
	await expect(asked).toContainText(`with ${third} between, they would tie`);
	await asked.getByRole('button', { name: 'Leave it' }).click();
	await expect(rows.nth(2)).toContainText(third);
	await rows.nth(2).getByRole('button').focus();
	await page.keyboard.press('Alt+ArrowUp');
	await asked.getByRole('button', { name: 'Set them apart' }).click();
	await expect(rows.nth(1)).toContainText(third);
	await expect(pile).not.toContainText('level');
	await expect(answer(page)).not.toContainText('Tie');
});
