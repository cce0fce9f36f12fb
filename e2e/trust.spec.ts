/** Small things that trust is lost in: a link that ends elsewhere, an undo that lies, a card in the way, what was shown and not taken. */
import { takeInHand } from './in-hand';
import { putSlow } from './stored';
import { expect, type Page, test } from './test';

const answer = (page: Page) => page.getByRole('region', { name: 'Answer' });
const card = (page: Page) => page.getByRole('region', { name: /^Card/ });

test('a part of Checks has an address, and the way back leads to where one was', async ({ page }) => {
	await page.goto('/p/harl-quay/checks?tab=maps');
	await expect(page.getByRole('tab', { name: /^Maps/ })).toHaveAttribute('aria-selected', 'true');
	await page.getByRole('tab', { name: /^Findings/ }).click();
	await expect(page.getByRole('tab', { name: /^Findings/ })).toHaveAttribute('aria-selected', 'true');
	await expect(page).toHaveURL(/tab=findings/);
	await page.reload();
	await expect(page.getByRole('tab', { name: /^Findings/ })).toHaveAttribute('aria-selected', 'true');
});

test('undo with the cursor in a field takes back the value that stands there, and the field shows what the object is', async ({
	page,
}) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await takeInHand(page, 'Tarpaulin');
	const x = card(page).getByLabel('X', { exact: true });
	const was = await x.inputValue();
	await x.fill('-1.6');
	await x.press('Enter');
	await expect(page.getByRole('button', { name: /^Undo/ })).toBeEnabled();
	await x.press('Control+z');
	await expect(x).toHaveValue(was);
	// Nothing is left to undo, and going on with Tab writes nothing.
	await expect(page.getByRole('button', { name: /^Undo/ })).toBeDisabled();
	await x.press('Tab');
	await expect(page.getByRole('button', { name: /^Undo/ })).toBeDisabled();
	// What is typed and not yet taken is given up first; the project has nothing to undo.
	await x.fill('7');
	await x.press('Control+z');
	await expect(x).toHaveValue(was);
	await x.press('Control+Shift+z');
	await expect(x).toHaveValue('-1.6');
});

test('the first walk leaves the keyboard alive, ends with Escape, and stays on the bench', async ({
	browser,
	baseURL,
}) => {
	const context = await browser.newContext({ baseURL });
	const page = await context.newPage();
	await page.goto('/p/harl-quay');
	const walk = page.getByRole('region', { name: /^First walk/ });
	await expect(walk.getByRole('button', { name: 'Next' })).toBeFocused();
	await page.keyboard.press('Control+k');
	await expect(page.getByRole('dialog', { name: 'Find' })).toBeVisible();
	await page.keyboard.press('Escape');
	await expect(page.getByRole('dialog', { name: 'Find' })).toHaveCount(0);
	await expect(walk).toBeVisible();
	await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Checks' }).click();
	await expect(page.getByRole('tab', { name: /^Board/ })).toBeVisible();
	await expect(walk).toHaveCount(0);
	await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Bench' }).click();
	await expect(walk).toBeVisible();
	await page.keyboard.press('Escape');
	await expect(walk).toHaveCount(0);
	await page.reload();
	await expect(answer(page)).toContainText('Gangway crank');
	await expect(walk).toHaveCount(0);
	await context.close();
});

test('a rule typed just before a level is taken is in what is taken', async ({ page }) => {
	const nodes = Array.from({ length: 8000 }, (_, i) => ({
		name: `lever_${i}`,
		translation: [i % 100, 0, -Math.floor(i / 100)],
		extensions: { KHR_physics_rigid_bodies: { collider: { geometry: { shape: 0 } } } },
	}));
	const text = JSON.stringify({
		asset: { version: '2.0' },
		scene: 0,
		scenes: [{ nodes: nodes.map((_, i) => i) }],
		nodes,
		extensionsUsed: ['KHR_implicit_shapes', 'KHR_physics_rigid_bodies'],
		extensions: { KHR_implicit_shapes: { shapes: [{ type: 'sphere', sphere: { radius: 0.2 } }] } },
	});
	await page.goto('/');
	await page.getByRole('button', { name: 'New space scene' }).click();
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
	const transfer = await page.evaluateHandle((text) => {
		const data = new DataTransfer();
		data.items.add(new File([text], 'levers.gltf'));
		return data;
	}, text);
	await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
	await expect(page.getByText('8000 nodes, 8000 match no rule')).toBeVisible();
	await page.getByRole('button', { name: 'Add a rule' }).click();
	await page.getByLabel('Rule 1: what it matches').fill('lever_*');
	await page.getByLabel('Rule 1: prompt').fill('Pull it');
	await page.getByRole('button', { name: 'Take it into the project' }).click();
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible({ timeout: 40_000 });
	await takeInHand(page, 'lever_7999');
	await expect(card(page).getByLabel('Prompt', { exact: true })).toHaveValue('Pull it');
});

test('a tie inside an order is told where it stands, and the bar leads to it', async ({ page }) => {
	await page.goto('/p/harl-quay?query=gaze');
	await page.getByRole('banner').getByRole('link', { name: '2 ties' }).click();
	await expect(answer(page)).toContainText('Tie');
	await page.getByRole('banner').getByRole('link', { name: '2 ties' }).click();
	await expect(answer(page)).toContainText('Tie in the order: places 1, 2');
	// Kept, it holds whichever of the two comes first.
	await expect(answer(page).getByRole('button', { name: 'Keep this answer' })).toBeVisible();
});

test('the theme follows the system while the page stands, on the page of an error too', async ({ page }) => {
	await page.emulateMedia({ colorScheme: 'light' });
	await page.goto('/p/harl-quay');
	const html = page.locator('html');
	await expect(answer(page)).toContainText('Gangway crank');
	await expect(html).toHaveAttribute('data-theme', 'light');
	await page.emulateMedia({ colorScheme: 'dark' });
	await expect(html).toHaveAttribute('data-theme', 'dark');
	await page.goto('/nowhere-at-all');
	await expect(page.getByRole('heading').first()).toBeVisible();
	await expect(html).toHaveAttribute('data-theme', 'dark');
	await page.emulateMedia({ colorScheme: 'light' });
	await expect(html).toHaveAttribute('data-theme', 'light');
});

test('a page loaded anew while a project opens says nothing of a project that was not opened', async ({ page }) => {
	await page.goto('/');
	await expect(page.getByRole('textbox', { name: 'Name of Quay at Harl' })).toBeVisible();
	await putSlow(page);
	await page.goto('/p/slow');
	await expect(page.getByText('Opening “Slow”…')).toBeVisible();
	// Long enough for the mark of what may end the tab.
	await page.waitForTimeout(3500);
	await page.reload();
	await expect(page.getByText('Opening “Slow”…')).toBeVisible();
	await page.goto('/');
	await expect(page.getByRole('textbox', { name: 'Name of Quay at Harl' })).toBeVisible();
	await expect(page.getByText('the last time it was opened, the tab ended')).toHaveCount(0);
});

test('code of a view that cannot be fetched ahead takes nobody from where they are', async ({ page }) => {
	let loads = 0;
	page.on('request', (request) => void (request.isNavigationRequest() && loads++));
	await page.route(/assets\/(checks|filters|time)-[^/]*\.js/, (route) => route.abort());
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await page.waitForTimeout(1500);
	expect(loads).toBe(1);
});

test('views that were left leave nothing behind', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	const views = page.getByRole('navigation', { name: 'Views' });
	const visit = async () => {
		await views.getByRole('link', { name: 'Checks' }).click();
		await expect(page.getByRole('button', { name: 'Run all' })).toBeEnabled();
		await views.getByRole('link', { name: 'Over time' }).click();
		await expect(page.getByRole('img', { name: /^Lanes of/ })).toContainText('Port cleat');
		await views.getByRole('link', { name: 'Bench' }).click();
		await expect(answer(page)).toContainText('Gangway crank');
	};
	const session = await page.context().newCDPSession(page);
	await session.send('Performance.enable');
	const left = async () => {
		// What is on its way back from workers is let come.
		await page.waitForTimeout(1000);
		for (let i = 0; i < 3; i++) await session.send('HeapProfiler.collectGarbage');
		const { metrics } = await session.send('Performance.getMetrics');
		const of = (name: string) => metrics.find((m) => m.name === name)?.value ?? Number.NaN;
		return { nodes: of('Nodes'), listeners: of('JSEventListeners') };
	};
	for (let i = 0; i < 2; i++) await visit();
	const before = await left();
	for (let i = 0; i < 8; i++) await visit();
	const after = await left();
	expect(after.nodes - before.nodes, JSON.stringify([before, after])).toBeLessThan(40);
	expect(after.listeners - before.listeners, JSON.stringify([before, after])).toBeLessThan(8);
});

/** Whatever of the bar is not wholly inside the window. */
const cutOff = (page: Page): Promise<(string | null)[]> =>
	page
		.getByRole('banner')
		.locator('button, a, select, input, [role=status]')
		.evaluateAll((parts) =>
			parts.flatMap((part) => {
				const box = part.getBoundingClientRect();
				return box.width > 0 && (box.left < 0 || box.right > innerWidth) ? [part.textContent] : [];
			}),
		);

test('a bar with all it can have, and the panel of a cell, stay inside a window of any width', async ({ page }) => {
	await page.goto('/');
	await page.getByRole('button', { name: 'Open a copy of Quay at Harl, before the fix' }).click();
	await page.getByRole('link', { name: 'Checks' }).click();
	await expect(page.getByRole('banner')).toContainText('4 fail');
	await expect(page.getByRole('banner').getByRole('link', { name: /finding/ })).toBeVisible();
	await page.getByRole('region', { name: 'What fails' }).getByRole('button', { name: /^Gaze/ }).first().click();
	// A moment that records says so in the bar too.
	await page.getByRole('combobox', { name: 'Moment', exact: true }).selectOption({ label: 'The crank is jammed' });
	await expect(page.getByRole('banner')).toContainText('records');
	for (const width of [1280, 1279, 1241, 1141, 1140, 1024, 981, 853, 640]) {
		await page.setViewportSize({ width, height: 700 });
		expect(await cutOff(page), `${width} px`).toEqual([]);
		const close = (await page.getByRole('button', { name: 'Close the cell' }).boundingBox())!;
		expect(close.x + close.width, `${width} px`).toBeLessThanOrEqual(width);
	}
});

for (const [width, height, about] of [
	[640, 400, 'all twice as large'],
	[853, 533, 'all half as large again'],
	[1024, 700, 'a small screen'],
] as const)
	test(`nothing is cut off and the stage has room, ${about}`, async ({ page }) => {
		await page.setViewportSize({ width, height });
		for (const path of ['', '/time', '/checks', '/filters']) {
			await page.goto(`/p/harl-quay${path}`);
			await expect(page.getByRole('banner')).toContainText('hold');
			// Everything in the bar is inside the window.
			expect(await cutOff(page), path).toEqual([]);
			if (path === '' || path === '/time') {
				const stage = (await page.getByRole('region', { name: 'Stage', exact: true }).boundingBox())!;
				expect(Math.min(stage.width, stage.height), `the stage at ${path}`).toBeGreaterThanOrEqual(200);
			}
			if (path === '/time') {
				const tab = page.getByRole('tab', { name: 'Effects' });
				await tab.scrollIntoViewIfNeeded();
				const box = (await tab.boundingBox())!;
				expect(box.x + box.width).toBeLessThanOrEqual(width);
			}
		}
		// No button lies over the prompt in the eye.
		await page.goto('/p/harl-quay');
		const prompt = page.locator('svg text').filter({ hasText: 'Turn the crank' }).first();
		await prompt.scrollIntoViewIfNeeded();
		const covered = await prompt.evaluate((element) => {
			const box = element.getBoundingClientRect();
			return document
				.elementsFromPoint(box.x + box.width / 2, box.y + box.height / 2)
				.some((e) => e.closest('button') !== null && !e.contains(element) && !element.contains(e));
		});
		expect(covered).toBe(false);
	});
