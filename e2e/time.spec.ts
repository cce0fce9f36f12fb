/** Run-throughs: the stage at an instant, lanes and log, recording by doing, memories, a sequence kept, broken and read. */
import { expect, type Page, test } from './test';

const lanes = (page: Page) => page.getByRole('img', { name: /^Lanes of/ });
const instant = (page: Page) => page.getByRole('slider', { name: 'Instant of the run' });
const held = (page: Page) => page.getByRole('region', { name: 'Held now' });
const beside = (page: Page, name: string) =>
	page.getByRole('complementary', { name: 'Beside the run' }).getByRole('tab', { name, exact: true }).click();
const checks = (page: Page) => page.getByRole('region', { name: 'Checks of this run' });
const figures = (page: Page, watch: string) =>
	page.getByRole('region', { name: 'Figures' }).getByRole('listitem').filter({ hasText: watch });

test('at any instant stage, sentence and ladder stand as the run does, with what is held and why', async ({ page }) => {
	await page.goto('/p/harl-quay/time');
	await expect(lanes(page)).toBeVisible();
	await expect(held(page)).toContainText('reach holds Port cleat');
	await instant(page).fill('2.5');
	await expect(held(page)).toContainText('tie: Port cleat, Starboard cleat');
	await expect(page.getByRole('region', { name: 'Answer' })).toContainText('Tie');
	// The one that sticks holds on.
	await page.getByRole('button', { name: 'Open what reach-calm watches' }).click();
	await expect(held(page)).toContainText('reach-calm holds Port cleat');
	await expect(page.getByRole('region', { name: 'Sentence' })).toContainText('Fittings or Cargo');
	// By the log to another instant.
	await beside(page, 'Log');
	await page
		.getByRole('region', { name: 'Log' })
		.getByRole('button', {
			name: /3\.00 s reach-calm: chosen Starboard cleat; Port cleat is outranked, 0\.43 m farther/,
		})
		.click();
	await expect(instant(page)).toHaveAttribute('aria-valuetext', '3 s');
	await beside(page, 'Ladder');
	await expect(held(page)).toContainText('Starboard cleat');
	// Step by step, and played.
	await page.getByRole('button', { name: 'One step back' }).click();
	await expect(instant(page)).toHaveAttribute('aria-valuetext', '2.95 s');
	await page.getByRole('combobox', { name: 'Speed' }).selectOption({ label: 'twice as fast' });
	await page.getByRole('button', { name: 'Play' }).click();
	await expect(instant(page)).toHaveAttribute('aria-valuetext', '4 s', { timeout: 10_000 });
	await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
});

test('a flicker is seen, calmed by a stick, kept, broken, and read where it first differs', async ({ page }) => {
	await page.goto('/p/harl-quay');
	// From the query to the run that watches it.
	await page.getByRole('button', { name: /^Reach, overlap/ }).click();
	await page.getByRole('toolbar', { name: 'Query Reach' }).getByRole('button', { name: 'Over time' }).click();
	await expect(lanes(page)).toBeVisible();
	await beside(page, 'Checks');
	await expect(figures(page, 'reach-calm')).toContainText('1 change');
	await expect(page.getByRole('region', { name: 'Figures' }).getByRole('listitem').first()).toContainText('5 changes');
	// Every memory beside the others, with how much the stick leaves.
	await page.getByRole('tab', { name: 'Memories' }).click();
	const memories = page.getByRole('region', { name: 'Memories side by side' });
	await expect(memories.getByRole('status')).toContainText('the answer’s own: 5 changes');
	await expect(memories.getByRole('status')).toContainText('sticking: 1 change');
	await memories.getByRole('slider', { name: 'Sticking within' }).fill('0');
	await expect(memories.getByRole('status')).not.toContainText('sticking: 1 change');
	await page.getByRole('tab', { name: 'Lanes' }).click();
	// Kept, and broken.
	const before = await checks(page).getByRole('listitem').count();
	await figures(page, 'reach-calm').getByRole('button', { name: 'Keep this sequence' }).click();
	await expect(checks(page).getByRole('listitem')).toHaveCount(before + 1);
	await beside(page, 'Run');
	const stick = page.getByRole('textbox', { name: 'Sticks within, reach-calm, m' });
	await stick.fill('0');
	await stick.press('Enter');
	await beside(page, 'Checks');
	const broken = checks(page).getByRole('listitem').filter({ hasText: 'past-the-cleats-reach-calm' });
	await expect(broken).toContainText('fails');
	await expect(broken).toContainText('wanted the sequence Port cleat, Starboard cleat');
	// On the board too; from there to the instant.
	await page.getByRole('link', { name: 'Checks', exact: true }).click();
	const over = page.getByRole('region', { name: 'Checks over time' });
	await over.getByRole('link').filter({ hasText: 'past-the-cleats-reach-calm' }).filter({ hasText: 'fails' }).click();
	await expect(instant(page)).not.toHaveAttribute('aria-valuetext', '0 s');
	await expect(held(page)).toBeVisible();
});

test('what is moved at an instant becomes a key, keys are pulled in time and taken out, each one step back', async ({
	page,
}) => {
	await page.goto('/p/harl-quay/time?run=past-the-cleats&at=0.5');
	await expect(instant(page)).toHaveAttribute('aria-valuetext', '0.5 s');
	const keys = page.getByRole('slider', { name: /^Key of Deckhand/ });
	await expect(keys).toHaveCount(6);
	await page.getByRole('application', { name: 'Scene' }).focus();
	await page.keyboard.press('Control+k');
	await page.keyboard.type('deckhand');
	await page.getByRole('option').filter({ hasText: 'object' }).filter({ hasText: 'Deckhand' }).first().click();
	await expect(page.getByRole('region', { name: 'Card: Deckhand' })).toBeVisible();
	await page.getByRole('application', { name: 'Scene' }).focus();
	// A tool is left before the hand.
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	await page.getByRole('button', { name: /^box/ }).first().click();
	await expect(page.getByRole('region', { name: 'Card: Deckhand' })).toHaveCount(0);
	await page.keyboard.press('Escape');
	await expect(page.getByRole('region', { name: 'Card: Deckhand' })).toBeVisible();
	await page.getByRole('application', { name: 'Scene' }).focus();
	await page.keyboard.press('ArrowRight');
	await expect(keys).toHaveCount(7);
	await page.getByRole('button', { name: /^Undo: Move/ }).click();
	await expect(keys).toHaveCount(6);
	// A key pulled on the stage turns the answer.
	const place = page.getByRole('slider', { name: 'Place at 1 s' });
	await place.focus();
	for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowLeft');
	await expect(page.getByRole('button', { name: /^Undo: (Keys|Place at 1 s)/ })).toBeEnabled();
	// In the lanes it is pulled in time.
	await keys.nth(1).focus();
	await page.keyboard.press('ArrowRight');
	await expect(keys.nth(1)).toHaveAttribute('aria-valuetext', '1.05 s');
	const box = await keys.nth(2).boundingBox();
	if (!box) throw new Error('no key');
	await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
	await page.mouse.down();
	await page.mouse.move(box.x + box.width / 2 + 24, box.y + box.height / 2, { steps: 4 });
	await page.mouse.up();
	await expect(keys.nth(2)).not.toHaveAttribute('aria-valuetext', '1.6 s');
	await keys.nth(2).focus();
	await page.keyboard.press('Delete');
	await expect(keys).toHaveCount(5);
	for (let i = 0; i < 12 && (await page.getByRole('button', { name: /^Undo/ }).isEnabled()); i++)
		await page.getByRole('button', { name: /^Undo/ }).click();
	await expect(keys).toHaveCount(6);
	await expect(keys.nth(1)).toHaveAttribute('aria-valuetext', '1 s');
});

test('a walk is recorded in a new run, and is few keys of one step', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await page.getByRole('button', { name: /^Gaze, ray/ }).click();
	await page.getByRole('toolbar', { name: 'Query Gaze' }).getByRole('button', { name: 'Over time' }).click();
	await page.getByRole('button', { name: 'New run' }).click();
	await expect(page.getByRole('button', { name: /^Gaze over time/ })).toHaveAttribute('aria-current', 'true');
	await expect(lanes(page)).toContainText('Gangway crank');
	await page.getByRole('button', { name: 'Record' }).click();
	await page.keyboard.down('ArrowLeft');
	await page.waitForTimeout(700);
	await page.keyboard.up('ArrowLeft');
	await page.keyboard.down('ArrowUp');
	await page.waitForTimeout(700);
	await page.keyboard.up('ArrowUp');
	// Where the keys came late, the end of the run has ended the recording already.
	const transport = page.getByRole('toolbar', { name: 'Time' });
	const stop = transport.getByRole('button', { name: 'Stop', exact: true });
	await stop.click({ timeout: 2000 }).catch(() => expect(stop).toHaveCount(0));
	await expect(transport.getByRole('button', { name: 'Record' })).toBeVisible();
	const keys = page.getByRole('slider', { name: /^Key of Deckhand/ });
	await expect(keys.first()).toBeVisible();
	expect(await keys.count()).toBeLessThan(16);
	// Turned away the crank is lost, and the lane says when.
	await beside(page, 'Log');
	await expect(page.getByRole('region', { name: 'Log' })).toContainText('Gangway crank is no longer touched');
	await page.getByRole('button', { name: 'Undo: Record' }).click();
	await expect(keys).toHaveCount(0);
});

test('what an action does is said in sentences, and the run follows', async ({ page }) => {
	await page.goto('/p/harl-quay/time?run=lift-and-set-down');
	await expect(lanes(page)).toBeVisible();
	await beside(page, 'Effects');
	const lift = page.getByRole('region', { name: 'Effect of lift' });
	await expect(lift).toContainText('the target is carried by the asker');
	await expect(lift).toContainText('the asker’s hands-full becomes yes');
	await lift.getByRole('combobox', { name: 'lift, line 1: what' }).selectOption({ label: 'is let go where it is' });
	await expect(lift).toContainText('the target is let go where it is');
	await page.getByRole('button', { name: 'Undo: Effect' }).click();
	await expect(lift).toContainText('the target is carried by the asker');
	// A press more, at the instant looked at.
	await instant(page).fill('2.5');
	await beside(page, 'Run');
	await page.getByRole('button', { name: 'Press at 2.5 s' }).first().click();
	await expect(page.getByRole('slider', { name: 'Press of reach' })).toHaveCount(3);
	// Half the step tells the same or says what is other.
	await page.getByRole('tab', { name: 'Step lengths' }).click();
	await expect(page.getByRole('region', { name: 'Two step lengths' })).toContainText('Only at 0.05 s');
});

test('what no step sees is marked between the steps', async ({ page }) => {
	await page.goto('/p/harl-quay/time');
	await page
		.getByRole('navigation', { name: 'Run-throughs' })
		.getByRole('button', { name: /^A gull through/ })
		.click();
	await beside(page, 'Log');
	await expect(page.getByRole('region', { name: 'Log' })).toContainText('Gull 1 is touched between steps 0 and 1 only');
	await expect(page.getByRole('img', { name: /^Lanes of A gull/ })).toContainText('Gull 1');
});
