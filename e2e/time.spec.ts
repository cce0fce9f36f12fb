/** Run-throughs, read as one walks through a log: lanes, the instant, why a choice changed, a sequence kept. */
import { expect, test } from '@playwright/test';

test('a walk is read over time: who holds what, why it changes, and the sequence is kept', async ({ page }) => {
	await page.goto('/p/harl-quay/time');
	const log = page.getByRole('complementary', { name: 'Log' });
	await expect(log).toContainText('reach: chosen Port cleat');
	const row = (name: string) =>
		page.getByRole('row').filter({ has: page.getByRole('rowheader', { name, exact: true }) });
	await expect(row('reach')).toContainText('Port cleat');
	await expect(row('reach').getByRole('cell').nth(1)).toHaveText('5');
	await expect(row('reach-calm').getByRole('cell').nth(1)).toHaveText('1');
	// By keyboard to the instant of a tie.
	const instant = page.getByRole('slider', { name: 'Instant of the run' });
	await instant.fill('2.5');
	await expect(row('reach')).toContainText('tie: Port cleat, Starboard cleat');
	await expect(row('reach-calm')).toContainText('Port cleat');
	// By the log to another.
	await log
		.getByRole('button', {
			name: /3\.00 s reach-calm: chosen Starboard cleat; Port cleat is outranked, 0\.43 m farther/,
		})
		.click();
	await expect(instant).toHaveAttribute('aria-valuetext', '3 s');
	await expect(row('reach-calm')).toContainText('Starboard cleat');
	// Kept, and taken back.
	const checks = page.getByRole('region', { name: 'Checks of this run' });
	await expect(checks.getByRole('listitem')).toHaveCount(6);
	await row('reach-calm').getByRole('button', { name: 'Keep this sequence' }).click();
	await expect(checks.getByRole('listitem')).toHaveCount(7);
	await page.getByRole('button', { name: 'Undo: Keep a sequence' }).click();
	await expect(checks.getByRole('listitem')).toHaveCount(6);
});

test('what no step sees is marked between the steps', async ({ page }) => {
	await page.goto('/p/harl-quay/time');
	await page
		.getByRole('navigation', { name: 'Run-throughs' })
		.getByRole('button', { name: /^A gull through/ })
		.click();
	await expect(page.getByRole('complementary', { name: 'Log' })).toContainText(
		'Gull 1 is touched between steps 0 and 1 only',
	);
	await expect(page.getByRole('img', { name: /^Lanes of A gull/ })).toContainText('Gull 1');
});
