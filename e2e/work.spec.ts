/** Longer pieces of work on the bench: every kind of query, flat piles, slips, two tabs, a tab that is killed. */
import { expect, type Page, test } from '@playwright/test';

const answer = (page: Page) => page.getByRole('region', { name: 'Answer' });
const sentence = (page: Page) => page.getByRole('region', { name: 'Sentence' });
const rail = (page: Page) => page.getByRole('navigation', { name: 'Queries' });

test('each kind of query is made from what is picked, and answers at once', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	for (const [kind, opening] of [
		['ray', 'From the focus of Gangway crank'],
		['pick', "Through Deckhand's eye"],
		['sweep', 'Move a sphere of radius 0.2 m'],
		['overlap', 'Within a sphere of radius 1.5 m at Gangway crank'],
		['hitbox', 'In the swing of Gangway crank'],
	] as const) {
		await page.getByRole('button', { name: 'New query' }).click();
		await page.getByRole('button', { name: new RegExp(`^${kind}`) }).click();
		await page.keyboard.press('Escape');
		await expect(sentence(page)).toContainText(opening, { useInnerText: true });
		await expect(rail(page).getByRole('button', { name: new RegExp(`^${kind} 1`, 'i') })).toHaveAttribute('aria-current', 'true');
		await expect(
			answer(page)
				.getByText(/^(Nothing is selected|Tie|[\d.]+ m)$/)
				.first(),
		).toBeVisible();
	}
	for (let i = 0; i < 5; i++) await page.getByRole('button', { name: /^Undo: New/ }).click();
	await expect(rail(page).getByRole('listitem')).toHaveCount(7);
});

test('in a flat pile the cursor takes what lies on top, and depth breaks the tie', async ({ page }) => {
	await page.goto('/p/pursers-desk');
	await expect(answer(page)).toContainText('Tie');
	const stage = page.getByRole('application', { name: 'Scene' });
	await page.getByRole('complementary', { name: 'Ladder' }).getByText('Missed', { exact: true }).click();
	// Lift one of the two stubs: its slip has the depth as third place.
	await page
		.getByRole('complementary', { name: 'Ladder' })
		.getByRole('button', { name: /Stub 106/ })
		.click();
	const slip = page.getByRole('region', { name: 'Slip: Stub 106' });
	await expect(slip.getByRole('textbox', { name: 'Depth' })).toHaveValue('0.18');
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
	await page.getByRole('button', { name: 'a range' }).click();
	await page.keyboard.press('Escape');
	await sentence(page).getByRole('button', { name: 'Range: up to 4 m' }).click();
	const max = page.getByRole('textbox', { name: 'max, m' });
	await max.fill('2.5');
	await max.press('Enter');
	await expect(page.getByRole('complementary', { name: 'Ladder' }).getByRole('button', { name: /Gangway crank/ })).toContainText('0.58 m out of range');
	await page.getByRole('button', { name: 'Leave this part out' }).click();
	await expect(answer(page)).toContainText('Gangway crank');
	await expect(sentence(page).getByRole('button', { name: /^Range/ })).toHaveCount(0);
});

test('a state set in the slip gates the query, and the ladder names the condition', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await answer(page)
		.getByRole('button', { name: /Gangway crank/ })
		.click();
	await page.getByRole('region', { name: 'Slip: Gangway crank' }).getByRole('checkbox', { name: 'jammed' }).check();
	await expect(page.getByRole('complementary', { name: 'Ladder' }).getByRole('button', { name: /Gangway crank/ })).toContainText(
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
	await page.waitForTimeout(1000);
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
	await one.waitForTimeout(900);
	await two.bringToFront();
	await two.evaluate(() => window.dispatchEvent(new Event('focus')));
	await expect(sentence(two).getByRole('button', { name: 'Length: 2 m' })).toBeVisible();
	await expect(two.getByRole('button', { name: 'Undo: change in another tab' })).toBeEnabled();
});

test('the theme stays as it was chosen', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await page.getByRole('button', { name: 'Switch to the dark theme' }).click();
	await page.reload();
	await expect(page.getByRole('button', { name: 'Switch to the light theme' })).toBeVisible();
	await page.goto('/');
	await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
});
