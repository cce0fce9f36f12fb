/** Taking something in hand by its name, as a person does who does not look for it on the stage. */
import type { Page } from '@playwright/test';

export async function takeInHand(page: Page, name: string): Promise<void> {
	await page.keyboard.press('Control+k');
	await page.getByRole('dialog', { name: 'Find' }).getByRole('combobox').fill(name);
	await page
		.getByRole('option', { name: new RegExp(name) })
		.first()
		.click();
}
