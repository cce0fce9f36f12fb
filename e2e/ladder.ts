/** The ladder, read the way a person does: a rung is unfolded where it is not yet. */
import { expect, type Locator, type Page } from '@playwright/test';

export const ladder = (page: Page): Locator => page.getByRole('complementary', { name: 'Ladder' });

/** The row of an object on a rung, unfolded first if need be. @param name what its row begins with */
export async function onRung(page: Page, rung: string, name: string): Promise<Locator> {
	const section = ladder(page).getByRole('region', { name: rung, exact: true });
	const row = section.getByRole('button', { name: new RegExp(`^${name}`) });
	// What the ladder unfolds by itself goes by the room there is, which may still change: unfolded by hand it stays.
	await expect(async () => {
		const header = section.getByRole('heading').getByRole('button');
		if ((await row.count()) === 0) await header.click({ timeout: 1000 });
		await row.waitFor({ timeout: 1000 });
		await section.page().waitForTimeout(250);
		expect(await row.count()).toBe(1);
	}).toPass({ timeout: 10_000 });
	return row;
}
