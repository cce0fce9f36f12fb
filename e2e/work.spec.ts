/** Longer pieces of work on the bench: every kind of query, flat piles, cards, two tabs, a tab that is killed. */

import { onRung } from './ladder';
import { stored } from './stored';
import { expect, type Page, test } from './test';

const answer = (page: Page) => page.getByRole('region', { name: 'Answer' });
const sentence = (page: Page) => page.getByRole('region', { name: 'Sentence' });
const queryList = (page: Page) => page.getByRole('navigation', { name: 'Queries' });
/** How far the gaze goes, as it lies in the store. */
const lengthIn = async (page: Page) => (await stored(page, 'harl-quay'))?.queries.find((q) => q.id === 'gaze')?.length;

test('each kind of query is made from what is picked, and answers at once', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	for (const [kind, opening] of [
		// Whoever has the eye asks, and not what happens to be in hand.
		['ray', "From Deckhand's eye straight ahead"],
		['pick', "Through Deckhand's eye"],
		['sweep', 'Move a sphere of radius 0.2 m'],
		['overlap', 'Within a sphere of radius 1.5 m at Deckhand'],
		['hitbox', 'In the swing of Deckhand'],
	] as const) {
		await page.getByRole('button', { name: 'New query' }).click();
		await page.getByRole('button', { name: new RegExp(`^${kind}`) }).click();
		await expect(sentence(page)).toContainText(opening, { useInnerText: true });
		await expect(queryList(page).getByRole('button', { name: new RegExp(`^${kind} 1`, 'i') })).toHaveAttribute(
			'aria-current',
			'true',
		);
		await expect(
			answer(page)
				.getByText(/^(Nothing is selected|Tie|[\d.]+ m.*)$/)
				.first(),
		).toBeVisible();
	}
	for (let i = 0; i < 5; i++) await page.getByRole('button', { name: /^Undo: New/ }).click();
	await expect(queryList(page).getByRole('listitem')).toHaveCount(9);
});

test('in a flat pile the cursor takes what lies on top, and depth breaks the tie', async ({ page }) => {
	await page.goto('/p/pursers-desk');
	await expect(answer(page)).toContainText('Tie');
	const stage = page.getByRole('application', { name: 'Scene' });
	// Lift one of the two stubs: its card has the depth as third place.
	await (await onRung(page, 'Missed', 'Stub 106')).click();
	const card = page.getByRole('region', { name: 'Card: Stub 106' });
	await expect(card.getByRole('textbox', { name: 'Depth' })).toHaveValue('0.18');
	// Arrow keys on the stage move it over the cursor.
	await stage.focus();
	await page.keyboard.press('Shift+ArrowLeft');
	await expect(answer(page)).toContainText('Stub 106');
	await expect(answer(page)).toContainText('Pick up the stub');
	await page.keyboard.press('Control+z');
	await expect(answer(page)).toContainText('Tie');
});

test('the sentence grows by what is added and shrinks by what is left out', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await sentence(page).getByRole('button', { name: 'Say more' }).click();
	// What was added is there to be typed at once.
	await page.getByRole('button', { name: 'a range' }).click();
	const max = page.getByRole('textbox', { name: 'max, m' });
	await max.fill('2.5');
	await max.press('Enter');
	await expect(await onRung(page, 'Range', 'Gangway crank')).toContainText('0.58 m out of range');
	await page.getByRole('button', { name: 'Leave this part out' }).click();
	await expect(answer(page)).toContainText('Gangway crank');
	await expect(sentence(page).getByRole('button', { name: /^Range/ })).toHaveCount(0);
});

test('a state set in the card gates the query, and the ladder names the condition', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	await page.getByRole('region', { name: 'Card: Gangway crank' }).getByRole('checkbox', { name: 'jammed' }).check();
	await expect(await onRung(page, 'There, but for a filter', 'Gangway crank')).toContainText(
		'needs jammed is no; it is yes',
	);
	await expect(answer(page)).toContainText('Nothing is selected');
});

test('what was done is there after the tab is killed', async ({ context }) => {
	const page = await context.newPage();
	await page.goto('/p/harl-quay');
	await sentence(page).getByRole('button', { name: 'Length: 4 m' }).click();
	await page.getByRole('textbox', { name: 'Length, m' }).fill('2');
	await page.keyboard.press('Enter');
	await expect(sentence(page).getByRole('button', { name: 'Length: 2 m' })).toBeVisible();
	await expect.poll(() => lengthIn(page)).toBe(2);
	await page.close({ runBeforeUnload: false });
	const again = await context.newPage();
	await again.goto('/p/harl-quay');
	await expect(sentence(again).getByRole('button', { name: 'Length: 2 m' })).toBeVisible();
});

test('a second tab takes over what the first one did', async ({ context }) => {
	const one = await context.newPage();
	await one.goto('/p/harl-quay');
	const two = await context.newPage();
	await two.goto('/p/harl-quay');
	await expect(answer(two)).toContainText('Gangway crank');
	await one.bringToFront();
	await sentence(one).getByRole('button', { name: 'Length: 4 m' }).click();
	await one.getByRole('textbox', { name: 'Length, m' }).fill('2');
	await one.keyboard.press('Enter');
	await expect.poll(() => lengthIn(one)).toBe(2);
	await two.bringToFront();
	await two.evaluate(() => window.dispatchEvent(new Event('focus')));
	await expect(sentence(two).getByRole('button', { name: 'Length: 2 m' })).toBeVisible();
	// What another tab did is not this one's to undo.
	await expect(two.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
});

test('the theme stays as it was chosen', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await page.getByRole('button', { name: 'Switch to the dark theme' }).click();
	await page.reload();
	await expect(page.getByRole('button', { name: 'Switch to the light theme' })).toBeVisible();
	await page.goto('/');
	await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
});

test('a tab that crashes in the middle of a drag loses no more than its last second', async ({ context }) => {
	const page = await context.newPage();
	await page.goto('/p/harl-quay');
	await queryList(page)
		.getByRole('button', { name: /^Harbour pick/ })
		.click();
	const cursor = page.getByRole('slider', { name: 'Cursor' });
	const before = await cursor.getAttribute('aria-valuetext');
	const box = (await cursor.boundingBox())!;
	await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
	await page.mouse.down();
	// Without a pause that would let it be written as a change that is done.
	for (let i = 0; i < 16; i++) {
		await page.mouse.move(box.x + box.width / 2 - 3 * i, box.y + box.height / 2 + i);
		await page.waitForTimeout(100);
	}
	const session = await context.newCDPSession(page);
	// A crashed page gives no answer.
	session.send('Page.crash').catch(() => {});
	await page.waitForEvent('crash');
	const again = await context.newPage();
	await again.goto('/p/harl-quay');
	await queryList(again)
		.getByRole('button', { name: /^Harbour pick/ })
		.click();
	await expect(again.getByRole('slider', { name: 'Cursor' })).not.toHaveAttribute('aria-valuetext', before ?? '');
	await expect(again.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
});

test('a part of the sentence opens by key with its first field in hand, and gives the focus back', async ({ page }) => {
	await page.goto('/p/harl-quay');
	const token = sentence(page).getByRole('button', { name: /^Length: / });
	// The first time it has to be fetched, the second time it is there.
	for (const [typed, said] of [
		['2', 'Length: 2 m'],
		['3', 'Length: 3 m'],
	] as const) {
		await token.focus();
		await page.keyboard.press('Enter');
		const field = page.getByRole('dialog', { name: 'Length' }).getByRole('textbox', { name: 'Length, m' });
		await expect(field).toBeFocused();
		await field.fill(typed);
		await page.keyboard.press('Enter');
		await expect(sentence(page).getByRole('button', { name: said })).toBeVisible();
		await page.keyboard.press('Escape');
		await expect(page.getByRole('dialog', { name: 'Length' })).toHaveCount(0);
		await expect(token).toBeFocused();
	}
});

test('while the cursor is dragged, query list, sentence and ladder follow, and end where the hand ends', async ({
	page,
}) => {
	await page.goto('/p/harl-quay');
	await queryList(page)
		.getByRole('button', { name: /^Harbour pick/ })
		.click();
	const cursor = page.getByRole('slider', { name: 'Cursor' });
	const chosen = answer(page).getByRole('button').first();
	await expect(chosen).toContainText('Gangway crank');
	const box = (await cursor.boundingBox())!;
	const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
	await page.mouse.move(x, y);
	await page.mouse.down();
	// Down to the quay's floor, where there is nothing to pick; the button is still held.
	for (let i = 1; i <= 10; i++) await page.mouse.move(x - 6 * i, y + 2 * i);
	await expect(answer(page)).toContainText('Nothing is selected');
	await expect(queryList(page).getByRole('button', { name: /^Harbour pick/ })).toContainText('nothing');
	const [cx, cy] = ((await cursor.getAttribute('aria-valuetext')) ?? '').match(/[\d.]+/g)?.map(Number) ?? [];
	await expect(
		sentence(page).getByRole('button', { name: `Cursor: ${Math.round(cx as number)}, ${Math.round(cy as number)} px` }),
	).toBeVisible();
	for (let i = 10; i >= 0; i--) await page.mouse.move(x - 6 * i, y + 2 * i);
	await page.mouse.up();
	await expect(chosen).toContainText('Gangway crank');
	await expect(queryList(page).getByRole('button', { name: /^Harbour pick/ })).toContainText('Gangway crank');
	await page.getByRole('button', { name: 'Undo: Move the cursor' }).click();
	await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
});

test('a key pressed while a handle is held changes nothing, and undo goes on working', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	const handle = page.getByRole('group', { name: 'Handles' }).getByRole('slider').first();
	await expect(handle).toBeVisible();
	const box = await handle.boundingBox();
	if (!box) throw new Error('the handle has no place');
	const queries = await page.getByRole('navigation', { name: 'Queries' }).getByRole('listitem').count();
	await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
	await page.mouse.down();
	await page.mouse.move(box.x + 40, box.y + 30, { steps: 4 });
	await page.keyboard.press('n');
	await page.keyboard.press('d');
	await page.mouse.move(box.x + 60, box.y + 40, { steps: 3 });
	await page.mouse.up();
	await expect(page.getByRole('navigation', { name: 'Queries' }).getByRole('listitem')).toHaveCount(queries);
	const undo = page.getByRole('button', { name: /^Undo: / });
	await expect(undo).toBeEnabled();
	const label = await undo.getAttribute('aria-label');
	// The next edit is a step of its own, and both are taken back one by one.
	await page.getByRole('textbox', { name: 'Project name' }).fill('Another step');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('button', { name: 'Undo: Rename the project' })).toBeEnabled();
	await page.keyboard.press('Control+z');
	await expect(page.getByRole('button', { name: label ?? '' })).toBeEnabled();
	// Escape lets go of what is held, and all is as it was.
	const before = await page.getByRole('region', { name: 'Sentence' }).textContent();
	const again = await handle.boundingBox();
	await page.mouse.move((again?.x ?? 0) + 10, (again?.y ?? 0) + 10);
	await page.mouse.down();
	await page.mouse.move((again?.x ?? 0) + 60, (again?.y ?? 0) + 50, { steps: 4 });
	await page.keyboard.press('Escape');
	await page.mouse.up();
	await expect(page.getByRole('region', { name: 'Sentence' })).toHaveText(before ?? '');
	await expect(page.getByRole('button', { name: label ?? '' })).toBeEnabled();
});

test('a state is not renamed onto another', async ({ page }) => {
	await page.goto('/p/harl-quay/filters');
	const states = page.getByRole('region', { name: 'States of objects' });
	const names = states.getByRole('textbox', { name: /^Name of the state/ });
	const [first, second] = [await names.nth(0).inputValue(), await names.nth(1).inputValue()];
	await names.nth(0).fill(second);
	await names.nth(0).press('Enter');
	await expect(page.getByRole('alert')).toContainText(`There is a state “${second}” already`);
	await page.getByRole('button', { name: 'All right' }).click();
	await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
	await names.nth(0).fill(`${first}-too`);
	await names.nth(0).press('Enter');
	await expect(states.getByRole('textbox', { name: `Name of the state ${first}-too` })).toBeVisible();
});

test('keys do nothing behind an open window, and single ones can be switched off', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	const scene = page.getByRole('application', { name: 'Scene' });
	const undo = page.getByRole('button', { name: /^Undo/ });
	await scene.focus();
	await page.keyboard.press('Control+a');
	await page.keyboard.press('?');
	const window = page.getByRole('dialog', { name: 'Keys' });
	await expect(window).toBeVisible();
	for (const key of ['d', 'g', 'h', 'Delete', 'n']) await page.keyboard.press(key);
	await expect(window).toBeVisible();
	await window.getByRole('checkbox', { name: 'Single keys without Ctrl are shortcuts' }).uncheck();
	await page.keyboard.press('Escape');
	await expect(undo).toBeDisabled();
	await scene.focus();
	await page.keyboard.press('d');
	await page.waitForTimeout(300);
	await expect(undo).toBeDisabled();
	await page.keyboard.press('Control+k');
	await expect(page.getByRole('dialog')).toBeVisible();
	await page.keyboard.press('Escape');
	// It is remembered.
	await page.reload();
	await expect(answer(page)).toContainText('Gangway crank');
	await scene.focus();
	await page.keyboard.press('?');
	await page.waitForTimeout(300);
	await expect(page.getByRole('dialog')).toHaveCount(0);
});

test('a part that cannot be fetched says so in its place, and the rest goes on', async ({ context }) => {
	const page = await context.newPage();
	// From the start: what is idle may fetch ahead.
	await page.route(/\/assets\/roster-/, (route) => route.abort());
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await page.getByRole('application', { name: 'Scene' }).focus();
	await page.keyboard.press('r');
	await expect(page.getByRole('alert')).toContainText(
		'The roster could not be fetched. Is the server gone, or the network? Your work is kept.',
	);
	await expect(answer(page)).toContainText('Gangway crank');
	await page.getByRole('textbox', { name: 'Project name' }).fill('Still at work');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('button', { name: 'Undo: Rename the project' })).toBeEnabled();
	await page.unroute(/\/assets\/roster-/);
	await page.getByRole('alert').getByRole('button', { name: 'Try again' }).click();
	await expect(page.getByRole('region', { name: /roster/i })).toBeVisible();
});

test('names of two hundred characters, from right to left and with marks upon marks leave every view usable', async ({
	page,
}) => {
	const names = [`${'x'.repeat(200)}`, `\u202e${'שלום '.repeat(39)}`, `z${'\u0301\u0327'.repeat(90)}`];
	await page.goto('/');
	const thing = (id: string, name: string, x: number) => ({
		id,
		name,
		position: [x, 0, -3],
		layer: 'a',
		tags: ['t'],
		prompt: name,
		action: name,
		shapes: [{ id: 's', kind: 'box', size: [0.6, 0.6, 0.6] }],
	});
	const project = {
		format: 'frelk/1',
		id: 'names',
		name: names[0],
		scene: {
			kind: 'space',
			layers: [{ id: 'a', name: names[1] }],
			tags: [{ id: 't', name: names[2] }],
			objects: names.map((name, i) => thing(`o${i}`, name, i - 1)),
			cameras: [{ id: 'eye', name: names[1], position: [0, 0, 3], projection: 'perspective', fov: 60 }],
		},
		queries: names.map((name, i) => ({
			id: `q${i}`,
			name,
			kind: 'pick',
			camera: 'eye',
			viewport: [960, 540],
			cursor: [480 + 80 * (i - 1), 270],
		})),
		moments: names.map((name, i) => ({ id: `m${i}`, name })),
		checks: names.map((name, i) => ({ id: `c${i}`, name, query: `q${i}`, moment: `m${i}`, expect: { none: true } })),
	};
	await page
		.getByLabel('Project files to import')
		.setInputFiles({ name: 'names.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(project)) });
	await expect(answer(page)).toBeVisible();
	const fits = () =>
		page.evaluate(
			() =>
				document.documentElement.scrollWidth <= window.innerWidth + 1 &&
				document.documentElement.scrollHeight <= window.innerHeight + 1,
		);
	for (const view of ['Bench', 'Checks', 'Filters', 'Bench']) {
		await page.getByRole('link', { name: view, exact: true }).click();
		await page.waitForTimeout(400);
		expect(await fits(), view).toBe(true);
	}
	for (const button of ['Export', 'Moments'])
		await expect(page.getByRole('banner').getByRole('button', { name: button, exact: true })).toBeInViewport();
	await page.getByRole('link', { name: 'Frelk, all projects' }).click();
	await expect(page.getByRole('textbox', { name: `Name of ${names[0]}` })).toBeVisible();
	expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth + 1)).toBe(true);
});

test('a path that ends too early says by how much, in the ladder and on the distance axis', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await sentence(page).getByRole('button', { name: 'Length: 4 m' }).click();
	const length = page.getByRole('textbox', { name: 'Length, m' });
	await length.fill('2.5');
	await length.press('Enter');
	await page.keyboard.press('Escape');
	await expect(await onRung(page, 'Too short', 'Gangway crank')).toContainText('0.58 m beyond its end');
	const axis = page.getByRole('region', { name: 'Distance axis' });
	await expect(axis).toContainText('Gangway crank, 0.58 m beyond its end');
	// It is pulled there on the distance axis, by as much as the pointer moves; or said at once.
	const end = axis.getByRole('slider', { name: 'Length of the path' });
	const box = (await end.boundingBox()) as { x: number; y: number; width: number; height: number };
	await page.mouse.move(box.x + 12, box.y + 18);
	await page.mouse.down();
	await page.mouse.move(box.x + 12 + 40, box.y + 18, { steps: 4 });
	await expect(end).not.toHaveAttribute('aria-valuetext', '2.5 m');
	await page.mouse.up();
	await page.getByRole('button', { name: 'Undo: Length' }).click();
	await expect(end).toHaveAttribute('aria-valuetext', '2.5 m');
	await axis.getByRole('button', { name: /^Make it .* long: as far as Gangway crank/ }).click();
	await expect(answer(page)).toContainText('Gangway crank');
	await end.focus();
	await page.keyboard.press('ArrowLeft');
	await expect(await onRung(page, 'Too short', 'Gangway crank')).toContainText('beyond its end');
});
