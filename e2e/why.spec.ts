/** From "why not" to "do this": remedies that are tried, and findings nobody asked for. */
import { onRung } from './ladder';
import { expect, test } from './test';

const answer = (page: import('@playwright/test').Page) => page.getByRole('region', { name: 'Answer' });
const remedies = (page: import('@playwright/test').Page) => page.getByRole('region', { name: 'Remedies' });

test('a failing check is repaired by a remedy in three clicks, and the remedy is one step back', async ({ page }) => {
	await page.goto('/');
	await page.getByRole('button', { name: /Open a copy of .*before the fix/ }).click();
	await expect(page.getByRole('banner')).toContainText('4 fail');
	await expect(answer(page)).toContainText('Lemon crate 4');
	// One: what would select the crank. Two: the cheapest, which mends the check.
	await page.getByRole('button', { name: 'What would select Gangway crank' }).focus();
	await page.keyboard.press('Enter');
	await expect(remedies(page)).toContainText('Each was tried');
	// Held against the checks of runs too, they are in their last order.
	await expect(remedies(page)).not.toContainText('Now against the checks of runs and maps');
	await expect(remedies(page).getByRole('listitem').first()).toContainText('fixes gaze');
	// Pointed at, it is seen as it would be; left, as it is.
	await remedies(page).getByRole('listitem').first().hover();
	await expect(page.getByText(/^As it would be: /)).toBeVisible();
	await expect(answer(page)).toContainText('Gangway crank');
	await page.mouse.move(500, 60);
	await expect(answer(page)).toContainText('Lemon crate 4');
	await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
	await remedies(page).getByRole('listitem').first().getByRole('button').click();
	await expect(answer(page)).toContainText('Gangway crank');
	await expect(remedies(page)).toContainText('It is selected as it is');
	await expect(page.getByRole('banner')).toContainText('3 fail');
	await page.getByRole('button', { name: 'Close the remedies' }).click();
	await page.keyboard.press('Control+z');
	await expect(answer(page)).toContainText('Lemon crate 4');
	// Not this one: what keeps the crate from being selected.
	await answer(page).getByRole('button', { name: 'Not this one…' }).click();
	await expect(remedies(page)).toContainText('Not Lemon crate 4');
	await expect(remedies(page).getByRole('listitem').first()).toBeVisible();
});

test('what looks like the mistake comes first, what an edit broke is put back, and the list closes with its query', async ({
	page,
}) => {
	await page.goto('/p/harl-quay?query=in-sight');
	await expect(answer(page)).toContainText('Waiting passenger');
	await onRung(page, 'Sight', 'Quay bell');
	await page.getByRole('button', { name: 'What would select Quay bell' }).focus();
	await page.keyboard.press('Enter');
	const first = remedies(page).getByRole('listitem').first();
	await expect(remedies(page)).toContainText('Each was tried');
	await expect(first).toContainText('Switch the shape left-over of Tarpaulin off');
	await expect(first).toContainText('looks like the mistake');
	// Another query is another question.
	await page
		.getByRole('button', { name: /^Deckhand’s gaze|^Gaze/ })
		.first()
		.click();
	await expect(remedies(page)).toHaveCount(0);
	await answer(page).getByRole('button', { name: 'Not this one…' }).click();
	await expect(remedies(page)).toContainText('Each was tried');
	const edit = (await first.getByRole('button').locator('span').first().textContent()) ?? '';
	await first.getByRole('button').click();
	await expect(answer(page)).toContainText('Nothing is selected');
	await page.getByRole('button', { name: 'What would select Gangway crank' }).focus();
	await page.keyboard.press('Enter');
	await expect(remedies(page)).toContainText('To select Gangway crank');
	await expect(first).toContainText(`back as it was before “${edit}”`);
	await first.getByRole('button').click();
	await expect(answer(page)).toContainText('Gangway crank');
});

test('a list that opens under a hand that rests tries nothing on', async ({ page }) => {
	await page.goto('/p/harl-quay?query=in-sight');
	const select = page.getByRole('button', { name: 'What would select Lifebuoy' });
	await expect(answer(page)).toContainText('Waiting passenger');
	await onRung(page, 'Sight', 'Lifebuoy');
	await expect(select).toBeAttached();
	const ladder = page.getByRole('complementary', { name: 'Ladder' });
	const box = await ladder.boundingBox();
	if (!box) throw new Error('no ladder');
	// Where the list will be.
	await page.mouse.move(box.x + 60, box.y + 140);
	await select.focus();
	await page.keyboard.press('Enter');
	await expect(remedies(page)).toContainText('Each was tried');
	await page.mouse.move(box.x + 60, box.y + 140);
	await expect(page.getByText(/^As it would be: /)).toHaveCount(0);
	const item = remedies(page).getByRole('listitem').first();
	const at = await item.boundingBox();
	if (!at) throw new Error('no remedy');
	expect(at.y).toBeLessThan(box.y + 400);
	await item.hover();
	await expect(page.getByText(/^As it would be: /)).toBeVisible();
});

test('from a failing check on the board to what would make it hold', async ({ page }) => {
	await page.goto('/');
	await page.getByRole('button', { name: /Open a copy of .*before the fix/ }).click();
	await expect(page.getByRole('banner')).toContainText('4 fail');
	await page.getByRole('link', { name: /^Checks/ }).click();
	await page.getByRole('region', { name: 'What fails' }).getByRole('button', { name: /^Gaze/ }).click();
	await page.getByRole('button', { name: 'Make it hold…' }).click();
	await expect(remedies(page)).toContainText('To select Gangway crank');
	await expect(remedies(page)).toContainText('Each was tried');
	await remedies(page).getByRole('listitem').first().getByRole('button').click();
	await expect(page.getByRole('banner')).toContainText('3 fail');
});

test('a tie is settled by a remedy, at a moment in the moment', async ({ page }) => {
	await page.goto('/p/harl-quay?query=reach&moment=booth-shut');
	await answer(page)
		.getByRole('button', { name: /^Settle it for/ })
		.first()
		.click();
	// While they are tried there may be more of one kind than are kept.
	await expect(remedies(page)).toContainText('Each was tried');
	const move = remedies(page)
		.getByRole('listitem')
		.filter({ hasText: /^Move Port cleat/ });
	await expect(move).toContainText('at this moment');
	await move.getByRole('button').click();
	await expect(answer(page)).not.toContainText('Tie');
	await expect(answer(page)).toContainText('Port cleat');
});

test('findings lead to their place, are settled, and ignored', async ({ page }) => {
	await page.goto('/p/harl-quay/checks');
	await page.getByRole('tab', { name: 'Findings' }).click();
	const list = page.getByRole('region', { name: 'Findings' });
	await expect(list.getByRole('status')).toHaveText(/^\d+ findings$/);
	const leftOver = list.getByRole('listitem').filter({ hasText: 'To mend it' }).filter({ hasText: 'left-over-shape' });
	// A rule is one row, with all it found.
	const small = list.getByRole('listitem').filter({ hasText: 'target-small' });
	await expect(small).toHaveCount(1);
	await expect(small).toContainText('4 objects are narrower than 24 px');
	await expect(small).toContainText('To mend it');
	await expect(leftOver.getByRole('list', { name: 'Objects' })).toContainText('Tarpaulin');
	await leftOver.getByRole('button', { name: 'Ignore' }).click();
	await page.getByLabel('Reason').fill('it is a prop');
	await page.getByRole('button', { name: 'Ignore it' }).click();
	await expect(leftOver).toHaveCount(0);
	await list.getByText(/^\d+ ignored$/).click();
	await expect(list.getByRole('list', { name: 'Ignored' })).toContainText('it is a prop');
	await page.getByRole('button', { name: 'Look for left-over-shape at scene.objects[10].shapes[1] again' }).click();
	await expect(leftOver).toHaveCount(1);
	await page.keyboard.press('Control+z');
	await expect(leftOver).toHaveCount(0);
	await page.keyboard.press('Control+z');
	await expect(leftOver).toHaveCount(1);
	await leftOver.getByRole('button').first().click();
	await expect(page.getByRole('region', { name: 'Card: Tarpaulin' })).toBeVisible();
});

test('a prompt names what it is about, and an outcome that asks a state gives way where it is not so', async ({
	page,
}) => {
	await page.goto('/p/harl-quay?query=gaze');
	const answer = page.getByRole('region', { name: 'Answer' });
	await page
		.getByRole('region', { name: 'Sentence' })
		.getByRole('button', { name: /prompt by tag/ })
		.click();
	const prompt = page.getByRole('textbox', { name: 'Outcome 1: prompt' });
	await prompt.fill('Use {name}');
	await prompt.press('Enter');
	await expect(answer).toContainText('Use Gangway crank');
	await page.getByRole('button', { name: 'Outcome 1: only where a state is so' }).click();
	await expect(answer).toContainText('Use Gangway crank');
	await page.getByRole('button', { name: 'Condition', exact: true }).click();
	await page.getByLabel('Outcome 1, condition 1: state').fill('jammed');
	await page.getByLabel('Outcome 1, condition 1: state').press('Tab');
	await expect(answer).not.toContainText('Use Gangway crank');
	await page.getByRole('combobox', { name: 'Outcome 1, condition 1: test' }).selectOption({ label: 'is no' });
	await expect(answer).toContainText('Use Gangway crank');
});

test('what is there but for a filter stands first, nearest first, with what stopped the path', async ({ page }) => {
	await page.goto('/p/pursers-desk?query=flick');
	await expect(answer(page)).toContainText('Nothing is selected');
	await expect(answer(page)).toContainText('stopped at 0.71 m by Coin tray');
	const there = page.getByRole('region', { name: 'There, but for a filter' });
	await expect(there.getByRole('listitem')).toHaveText([/Blotter.*0\.15 m/, /Stub 106.*0\.64 m/, /Coin tray.*0\.71 m/]);
	// First of all rungs; drawn on the distance axis, and on the stage.
	const rungs = page.getByRole('complementary', { name: 'Ladder' }).getByRole('heading', { level: 3 });
	await expect(rungs.first()).toContainText('There, but for a filter');
	await expect(page.getByRole('img', { name: /Stub 106 at 0\.64 m/ })).toBeVisible();
	await there.getByRole('button', { name: /^Stub 106/ }).hover();
	await expect(page.getByText(/^Stub 106: there at 0\.64 m, but on layer Paper/)).toBeVisible();
	// Beside an answer floors and walls are folded.
	await page.goto('/p/harl-quay?query=in-sight');
	await expect(answer(page)).toContainText('Waiting passenger');
	await expect(there.getByRole('listitem')).toHaveCount(0);
	await there.getByRole('button', { name: 'There, but for a filter' }).click();
	await expect(there.getByRole('listitem').first()).toContainText('Quay');
});
