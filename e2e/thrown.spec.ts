/** What is thrown, seen by its marks, given room, held and locked: by hand, as one comes to it. */
import { expect, test } from './test';

const answer = 'Answer';

test('a sweep is thrown instead, and room is asked for', async ({ page }) => {
	await page.goto('/p/harl-quay');
	const queries = page.getByRole('navigation', { name: 'Queries' });
	await queries.getByRole('button', { name: /^Heaving line/ }).click();
	const sentence = page.getByRole('region', { name: 'Sentence' });
	await sentence.getByRole('button', { name: /^(To|Direction):/ }).click();
	await page.getByRole('button', { name: 'Throw it instead' }).click();
	const token = sentence.getByRole('button', { name: /at 9 m\/s/ });
	await expect(token).toBeVisible();
	await page.keyboard.press('Escape');
	await token.click();
	await page.getByLabel('Thrown', { exact: true }).selectOption('to a place, the flat way');
	await page.getByRole('textbox', { name: 'speed' }).fill('2');
	await page.getByRole('textbox', { name: 'speed' }).press('Enter');
	await expect(sentence.getByRole('button', { name: /at 2 m\/s toward .*, the flat way, within 5 s/ })).toBeVisible();
	await page.getByLabel('Thrown', { exact: true }).selectOption('in a direction');
	// It comes down on the quay, which it asks nothing of: told where it lies on its way.
	await expect(page.getByRole('region', { name: 'Distance axis' })).toContainText('Quay');
	await expect(page.getByRole('region', { name: answer })).toContainText('Nothing is selected');
	await page.keyboard.press('Escape');
	await page.getByRole('button', { name: /^Undo/ }).click();
	await page.getByRole('button', { name: /^Undo/ }).click();
	await expect(sentence.getByRole('button', { name: /at 9 m\/s/ })).toBeVisible();

	await queries.getByRole('button', { name: /^Set the crate down/ }).click();
	await sentence.getByRole('button', { name: 'Say more' }).click();
	await page.getByRole('button', { name: 'room to stand' }).click();
	await page.keyboard.press('Escape');
	await expect(sentence.getByRole('button', { name: /room to stand on any layer/ })).toBeVisible();
	await expect(page.getByRole('region', { name: answer })).toContainText(/borne everywhere: 5 of 5 points/);
});

test('a lock steps on, and a press is held', async ({ page }) => {
	await page.goto('/p/harl-quay/time?run=past-the-cleats&at=0.5');
	await page
		.getByRole('complementary', { name: 'Beside the run' })
		.getByRole('tab', { name: 'Run', exact: true })
		.click();
	await page.getByLabel('Memory of reach', { exact: true }).first().selectOption('a lock, until it is let go');
	await page.getByLabel('Press reach otherwise').first().selectOption('take the lock');
	await expect(page.getByText('lock', { exact: true }).first()).toBeVisible();
	await page.getByLabel('Press reach otherwise').first().selectOption('hold for 0.5 s');
	await expect(page.getByText(/^Held from/).first()).toBeVisible();
	await page.getByRole('button', { name: /^Undo/ }).click();
	await expect(page.getByText(/^Held from/)).toHaveCount(0);
});
