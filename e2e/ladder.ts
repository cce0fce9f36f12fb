/** The ladder, read the way a person does: a rung is unfolded where it is not yet. */
import type { Locator, Page } from '@playwright/test';

export const ladder = (page: Page): Locator => page.getByRole('complementary', { name: 'Ladder' });

/** The row of an object on a rung, unfolded first if need be. @param name what its row begins with */
export async function onRung(page: Page, rung: string, name: string): Promise<Locator> {
	const section = ladder(page).getByRole('region', { name: rung, exact: true });
	const row = section.getByRole('button', { name: new RegExp(`^${name}`) });
	await section.waitFor();
	if ((await row.count()) === 0) await section.getByRole('heading').getByRole('button').click();
	return row;
}
