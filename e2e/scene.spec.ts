/** Building a scene and asking about it, by hand. */
import { AxeBuilder } from '@axe-core/playwright';
import { takeInHand } from './in-hand';
import { onRung } from './ladder';
import { expect, type Page, test } from './test';

const answer = (page: Page) => page.getByRole('region', { name: 'Answer' });
const stage = (page: Page) => page.getByRole('application', { name: 'Scene' });
const card = (page: Page) => page.getByRole('region', { name: /^Card/ });

async function newScene(page: Page, kind: 'space' | 'flat'): Promise<void> {
	await page.goto('/');
	await page.getByRole('button', { name: kind === 'space' ? 'Empty space scene' : 'New flat scene' }).click();
	await expect(stage(page)).toBeVisible();
}

/** Presses and drags on the stage, in parts of its width and height. */
async function stroke(page: Page, from: [number, number], to: [number, number]): Promise<void> {
	const box = (await stage(page).boundingBox())!;
	const at = ([x, y]: [number, number]): [number, number] => [box.x + x * box.width, box.y + y * box.height];
	await page.mouse.move(...at(from));
	await page.mouse.down();
	await page.mouse.move(...at(to), { steps: 5 });
	await page.mouse.up();
}

async function place(page: Page, x: string, y: string, z: string): Promise<void> {
	for (const [label, value] of [
		['X', x],
		['Y', y],
		['Z', z],
	] as const) {
		await card(page).getByLabel(label, { exact: true }).fill(value);
		await card(page).getByLabel(label, { exact: true }).press('Enter');
	}
}

async function drop(page: Page, shape: string, name: string): Promise<void> {
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	await page.getByRole('button', { name: `Drop a ${shape}` }).click();
	await card(page).getByLabel('Name', { exact: true }).fill(name);
	await card(page).getByLabel('Name', { exact: true }).press('Enter');
	await expect(page.getByRole('region', { name: `Card: ${name}` })).toBeVisible();
}

async function newQuery(page: Page, kind: string): Promise<void> {
	await page.getByRole('button', { name: 'New query' }).click();
	await page
		.getByRole('dialog', { name: 'New query' })
		.getByRole('button', { name: new RegExp(`^${kind}`) })
		.click();
	// What it may choose from is asked for at once.
	await expect(page.getByRole('dialog', { name: 'Layers to choose from' })).toBeVisible();
	await page.keyboard.press('Escape');
}

test('a scene of three objects is built by hand, every kind of query asked, and all of it undone', async ({ page }) => {
	test.setTimeout(120_000);
	await newScene(page, 'space');
	await expect(page.getByText('This scene is empty.')).toBeVisible();
	// The first is drawn at its size, the others are dropped.
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	await page.getByRole('button', { name: /^box a crate/ }).click();
	await stroke(page, [0.5, 0.55], [0.6, 0.65]);
	await expect(card(page)).toBeVisible();
	await card(page).getByLabel('Name', { exact: true }).fill('Lemon box');
	await card(page).getByLabel('Name', { exact: true }).press('Enter');
	await place(page, '0', '0', '-3');
	// As high as a porter looks.
	await card(page).getByLabel('body height').fill('1.2');
	await card(page).getByLabel('body height').press('Enter');
	await drop(page, 'sphere', 'Buoy');
	await place(page, '2', '0', '-3');
	await drop(page, 'capsule', 'Porter');
	await place(page, '0', '0', '0');

	// With the porter in hand, each new query is his.
	await newQuery(page, 'ray');
	await expect(answer(page)).toContainText('Lemon box');
	await newQuery(page, 'sweep');
	await expect(answer(page)).toContainText('Lemon box');
	await newQuery(page, 'overlap');
	await expect(answer(page)).toContainText('Nothing is selected');
	await page.getByRole('button', { name: 'Show all' }).click();
	await page.getByRole('slider', { name: 'Radius of volume' }).focus();
	for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowUp');
	await expect(answer(page)).toContainText('Lemon box');
	await newQuery(page, 'hitbox');
	await expect(answer(page)).toContainText('Nothing is selected');
	await newQuery(page, 'pick');
	await expect(page.getByRole('slider', { name: 'Cursor' })).toBeVisible();
	await expect(page.getByRole('navigation', { name: 'Queries' }).getByRole('listitem')).toHaveCount(5);

	const undo = page.getByRole('button', { name: /^Undo/ });
	for (let i = 0; i < 60 && (await undo.isEnabled()); i++) await undo.click();
	await expect(page.getByText('This scene is empty.')).toBeVisible();
	await expect(page.getByText('No query yet.', { exact: true })).toBeVisible();
	const redo = page.getByRole('button', { name: /^Redo/ });
	for (let i = 0; i < 60 && (await redo.isEnabled()); i++) await redo.click();
	await expect(page.getByRole('navigation', { name: 'Queries' }).getByRole('listitem')).toHaveCount(5);
});

test('a ray is drawn in two gestures: from here, along there', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await page.getByRole('button', { name: 'Plan', exact: true }).click();
	await page.getByRole('button', { name: 'New query' }).click();
	// The menu is gone by itself, and Escape would leave the tool.
	await page.getByRole('button', { name: 'Draw a ray on the stage' }).click();
	await expect(page.getByText('From here, along there')).toBeVisible();
	await stroke(page, [0.3, 0.75], [0.42, 0.6]);
	await expect(page.getByRole('navigation', { name: 'Queries' }).getByRole('button', { name: /^Ray 1/ })).toBeVisible();
	await expect(page.getByRole('region', { name: 'Sentence' })).toContainText('up to');
	await page.getByRole('button', { name: 'Undo: New ray' }).click();
	await expect(page.getByRole('navigation', { name: 'Queries' }).getByRole('button', { name: /^Ray 1/ })).toHaveCount(
		0,
	);
});

test('a tie is broken by a further rule, and made again by taking it away', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await page
		.getByRole('navigation', { name: 'Queries' })
		.getByRole('button', { name: /^Reach/ })
		.click();
	await expect(answer(page)).toContainText('Tie');
	await expect(answer(page)).toContainText('between them would');
	await page.getByRole('button', { name: /^Choice/ }).click();
	await page.getByRole('button', { name: 'first in the file' }).click();
	await page.keyboard.press('Escape');
	await expect(answer(page)).toContainText('Port cleat');
	await expect(answer(page)).not.toContainText('Tie');
	await page.getByRole('button', { name: /^Undo: Choice/ }).click();
	await expect(answer(page)).toContainText('Tie');
});

test('the object that hides another is found in the ladder and taken out of the way', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await page
		.getByRole('navigation', { name: 'Queries' })
		.getByRole('button', { name: /^Everything in sight/ })
		.click();
	await expect(await onRung(page, 'Sight', 'Quay bell')).toContainText('3.61 m behind Tarpaulin');
	await takeInHand(page, 'Tarpaulin');
	await card(page).getByLabel('Active', { exact: true }).uncheck();
	await expect(answer(page)).toContainText('Quay bell');
});

test('several objects are taken in hand, changed, grouped, hidden and deleted, each one step back', async ({
	page,
}) => {
	await page.goto('/p/harl-quay');
	await stage(page).focus();
	await page.keyboard.press('r');
	const roster = page.getByRole('region', { name: 'Roster' });
	await roster.getByLabel('Search objects').fill('name:crate-');
	await roster.getByRole('button', { name: 'Take all 4 in hand' }).click();
	await expect(page.getByRole('region', { name: 'Card: several objects' })).toContainText('4 objects in hand');
	await page.getByLabel('Prompt of all').fill('Leave it');
	await page.getByLabel('Prompt of all').press('Enter');
	await page.getByRole('button', { name: 'Align X, low' }).click();
	await page.getByRole('button', { name: 'Group under a new parent' }).click();
	await expect(page.getByRole('region', { name: 'Card: Group' })).toBeVisible();
	await page.getByRole('button', { name: /^Undo: Group/ }).click();
	await roster.getByRole('button', { name: 'Take all 4 in hand' }).click();
	await page.getByRole('button', { name: 'Hide on the stage' }).click();
	await expect(roster.getByLabel('hidden')).toHaveCount(4);
	await roster.getByRole('button', { name: /^Close/ }).click();
	await card(page).getByRole('button', { name: 'Delete' }).click();
	const sure = page.getByRole('dialog', { name: 'Delete 4 objects?' });
	await expect(sure).toBeVisible();
	await sure.getByRole('button', { name: /^Delete/ }).click();
	await stage(page).focus();
	await page.keyboard.press('r');
	await page.getByLabel('Search objects').fill('name:crate-');
	await expect(page.getByText('Nothing is like that.')).toBeVisible();
	await page.getByRole('button', { name: 'Undo: Delete 4 objects' }).click();
	await expect(page.getByRole('button', { name: 'Take all 4 in hand' })).toBeVisible();
});

test('objects are copied into another project, with the layers they need', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await takeInHand(page, 'Gangway crank');
	await stage(page).focus();
	await page.keyboard.press('Control+c');
	await page.getByRole('link', { name: 'Frelk, all projects' }).click();
	await page.getByRole('button', { name: 'Empty space scene' }).click();
	await stage(page).focus();
	await page.keyboard.press('Control+v');
	await expect(page.getByRole('region', { name: 'Card: Gangway crank' })).toBeVisible();
	await page.getByRole('link', { name: 'Filters' }).click();
	await expect(page.getByLabel('Name of layer Fittings')).toBeVisible();
});

test('in a flat scene the pile under the cursor is put in another order', async ({ page }) => {
	await page.goto('/p/pursers-desk');
	const pile = page.getByRole('region', { name: 'Pile under the cursor' });
	await expect(pile).toBeVisible();
	const rows = pile.getByRole('listitem');
	const second = ((await rows.nth(1).textContent()) ?? '').replace(/(level, )?-?[\d.]+ m$/, '');
	const first = ((await rows.nth(0).textContent()) ?? '').replace(/(level, )?-?[\d.]+ m$/, '');
	await rows.nth(1).getByRole('button').focus();
	await page.keyboard.press('Alt+ArrowUp');
	await expect(rows.nth(0)).toContainText(second);
	await page.getByRole('button', { name: `Undo: Depth of ${second}` }).click();
	await expect(rows.nth(0)).toContainText(first);
});

test('the layer table is painted by dragging, and a layer in use is replaced before it goes', async ({ page }) => {
	await page.goto('/p/harl-quay/filters');
	const cell = (query: string, layer: string) => page.getByRole('button', { name: new RegExp(`^${query}, ${layer}:`) });
	await expect(cell('Reach', 'Glass')).toHaveAccessibleName('Reach, Glass: neither');
	const [from, to] = [
		(await cell('Reach', 'Glass').boundingBox())!,
		(await cell('Boathook swing', 'Glass').boundingBox())!,
	];
	await page.mouse.move(from.x + 20, from.y + 10);
	await page.mouse.down();
	await page.mouse.move(from.x + 20, to.y + 10, { steps: 12 });
	await page.mouse.up();
	for (const query of ['Reach', 'Everything in sight', 'Boathook swing'])
		await expect(cell(query, 'Glass')).toHaveAccessibleName(`${query}, Glass: chooses`);
	await page.getByRole('button', { name: 'Undo: Paint the layer table' }).click();
	await expect(cell('Reach', 'Glass')).toHaveAccessibleName('Reach, Glass: neither');
	// By keyboard, cell by cell.
	await cell('Reach', 'Ground').focus();
	await page.keyboard.press('ArrowRight');
	await page.keyboard.press('Enter');
	await expect(cell('Reach', 'Walls')).toHaveAccessibleName('Reach, Walls: both');
	await page.getByRole('button', { name: 'Delete layer Glass' }).click();
	const sure = page.getByRole('dialog', { name: 'Delete Glass?' });
	await expect(sure.getByRole('list', { name: 'Where it is used' })).toContainText('query Gaze: sight blockers');
	await sure.getByLabel('Replacement').selectOption({ label: 'Walls' });
	await sure.getByRole('button', { name: 'Replace with Walls and delete' }).click();
	await expect(page.getByLabel('Name of layer Glass')).toHaveCount(0);
	await page.getByLabel('Id of the tag crank').fill('winch');
	await page.getByLabel('Id of the tag crank').press('Enter');
	await page.getByRole('link', { name: 'Bench' }).click();
	await expect(page.getByRole('region', { name: 'Sentence' })).toContainText('winch');
	await expect(answer(page)).toContainText('Gangway crank');
});

test('by keyboard alone a box is added, sized, asked about and put away', async ({ page }) => {
	await newScene(page, 'space');
	await stage(page).focus();
	await page.keyboard.press('Control+k');
	await expect(page.getByRole('dialog', { name: 'Find' })).toBeVisible();
	await page.keyboard.type('add a box');
	await expect(page.getByRole('option', { name: /^Add a box/ })).toHaveAttribute('aria-selected', 'true');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('region', { name: 'Card: Box' })).toBeVisible();
	await page.getByRole('slider', { name: 'Width of body' }).focus();
	await page.keyboard.press('Shift+ArrowUp');
	await expect(card(page).getByLabel('body width')).toHaveValue('1.3');
	await page.keyboard.press('Control+k');
	await expect(page.getByRole('dialog', { name: 'Find' })).toBeVisible();
	await page.keyboard.type('new overlap');
	await expect(page.getByRole('option', { name: /^New overlap/ })).toHaveAttribute('aria-selected', 'true');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('region', { name: 'Sentence' })).toContainText('Within a');
	// Until it is gone the keys are the window's.
	await expect(page.getByRole('dialog', { name: 'Find' })).toHaveCount(0);
	await stage(page).focus();
	await page.keyboard.press('?');
	await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Group under a new parent');
	await page.keyboard.press('Escape');
	await stage(page).focus();
	await page.keyboard.press('d');
	await expect(page.getByRole('region', { name: 'Card: Box 2' })).toBeVisible();
	await page.keyboard.press('Delete');
	await page
		.getByRole('dialog', { name: 'Delete Box 2?' })
		.getByRole('button', { name: 'Delete', exact: true })
		.press('Enter');
	await expect(page.getByRole('region', { name: 'Card: Box 2' })).toHaveCount(0);
});

test('who looks walks by the arrow keys, and the eye takes the room of the stage', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	const walk = page.getByRole('button', { name: 'Walk' });
	await walk.click();
	const walking = page.getByRole('button', { name: 'Walking: arrow keys' });
	for (let i = 0; i < 6; i++) await walking.press('ArrowLeft');
	await expect(answer(page)).not.toContainText('Turn the crank');
	for (let i = 0; i < 6; i++) await walking.press('ArrowRight');
	await expect(answer(page)).toContainText('Turn the crank');
	await page.getByRole('button', { name: 'Swap eye and stage' }).click();
	const picture = page.getByRole('group', { name: /^Picture from/ });
	expect((await picture.boundingBox())!.width).toBeGreaterThan(600);
	await page.getByRole('button', { name: 'Swap eye and stage' }).click();
	expect((await picture.boundingBox())!.width).toBeLessThan(320);
});

test('the first walk is offered once', async ({ browser }) => {
	const context = await browser.newContext({ storageState: { cookies: [], origins: [] } });
	const page = await context.newPage();
	await page.goto('http://127.0.0.1:4319/p/harl-quay');
	await expect(page.getByRole('heading', { name: 'A query is a sentence' })).toBeVisible();
	await page.getByRole('button', { name: 'Next' }).click();
	await page.getByRole('button', { name: 'Next' }).click();
	await page.getByRole('button', { name: 'Begin' }).click();
	await page.reload();
	await expect(answer(page)).toContainText('Gangway crank');
	await expect(page.getByRole('heading', { name: 'A query is a sentence' })).toHaveCount(0);
	await context.close();
});

/** What somebody cannot use, or only with great trouble. */
const faultsOf = async (axe: AxeBuilder): Promise<string[]> =>
	(await axe.analyze()).violations
		.filter((v) => v.impact === 'serious' || v.impact === 'critical')
		.map((v) => `${v.id}: ${v.nodes[0]?.html}`);

/** Of the page as it stands, or of a part of it; what a theme changes is colours: the rest is looked for once. */
async function expectNoFaults(page: Page, part: string | null, about: string): Promise<void> {
	for (const theme of ['light', 'dark'] as const) {
		// Colours on their way from one theme to the other are neither's.
		await page.emulateMedia({ colorScheme: theme, reducedMotion: 'reduce' });
		// Without frames of other origins it need not gather in a page of its own what it found, nor tell what is right.
		const axe = new AxeBuilder({ page }).setLegacyMode().options({
			resultTypes: ['violations'],
			// Not looked for by default: targets of at least 24 px, and names that begin with what is read on the button.
			rules: { 'target-size': { enabled: true }, 'label-content-name-mismatch': { enabled: true } },
		});
		if (part) axe.include(part);
		if (theme === 'dark') axe.withRules(['color-contrast']);
		expect(await faultsOf(axe), `${about}, ${theme}`).toEqual([]);
	}
	await page.emulateMedia({ colorScheme: 'light', reducedMotion: null });
}

for (const path of [
	...['harl-quay', 'harl-quay/checks', 'harl-quay/filters', 'harl-quay/time', 'deck-from-above'].map((p) => `/p/${p}`),
	'/guide',
])
	test(`${path} has no serious fault of access`, async ({ page }) => {
		await page.goto(path);
		await expect(page).toHaveTitle(/ · Frelk$/);
		await expect(page.locator('main').first()).toBeVisible();
		await expect(page.getByText('Opening…')).toHaveCount(0);
		await expectNoFaults(page, null, path);
	});

test('a page that still opens has no serious fault of access', async ({ page }) => {
	await page.route('**/assets/*.js', () => {
		// Never answered: the page stays as the server sent it.
	});
	await page.goto('/p/harl-quay', { waitUntil: 'commit' });
	await expect(page.getByRole('status')).toHaveText('Opening…');
	await expect(page).toHaveTitle('Frelk');
	await expectNoFaults(page, null, 'opening');
});

test('no window has a serious fault of access', async ({ page }) => {
	await page.goto('/p/harl-quay');
	for (const key of ['r', 'm', '?', 'Control+k']) {
		await stage(page).focus();
		await page.keyboard.press(key);
		const opened = key === 'r' || key === 'm' ? '[data-takes-keys]' : '[role=dialog]';
		await expect(page.locator(opened)).toBeVisible();
		await expectNoFaults(page, opened, key);
		await page.keyboard.press('Escape');
	}
});

test('what the graphics card loses is drawn again', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await expect(page.locator('canvas[data-drawn]')).toBeAttached();
	await page.waitForTimeout(800);
	/** Where the stage is drawn, without the handles that lie over it. */
	const clip = { x: 230, y: 190, width: 400, height: 120 };
	const before = await page.screenshot({ clip });
	await page.evaluate(async () => {
		const canvas = document.querySelector('canvas') as HTMLCanvasElement;
		const loss = (canvas.getContext('webgl2') as WebGL2RenderingContext).getExtension('WEBGL_lose_context');
		loss?.loseContext();
		await new Promise((done) => setTimeout(done, 300));
		loss?.restoreContext();
	});
	await expect.poll(async () => (await page.screenshot({ clip })).equals(before), { timeout: 10_000 }).toBe(true);
});

test('without WebGL a flat scene is drawn all the same, and what is moved moves', async ({ page }) => {
	await page.addInitScript(() => {
		const { getContext } = HTMLCanvasElement.prototype;
		HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, kind: string, ...more: unknown[]) {
			return /webgl/.test(kind) ? null : Reflect.apply(getContext, this, [kind, ...more]);
		} as typeof getContext;
	});
	await page.goto('/p/deck-from-above');
	await expect(page.getByRole('img', { name: 'Shapes' })).toBeVisible();
	await takeInHand(page, 'Gull on the planks');
	const shape = page.locator('path[data-object="gull-1"]').first();
	const was = (await shape.boundingBox())!;
	const stood = await card(page).getByLabel('X', { exact: true }).inputValue();
	await card(page)
		.getByLabel('X', { exact: true })
		.fill(String(Number(stood) + 1));
	await card(page).getByLabel('X', { exact: true }).press('Enter');
	await expect.poll(async () => (await shape.boundingBox())!.x).toBeGreaterThan(was.x + 5);
	expect((await shape.boundingBox())!.y).toBeCloseTo(was.y, 0);
	// A floor map lies under the shapes, over the area that it is of.
	await page.getByRole('button', { name: 'Floor map' }).click();
	const map = page.getByRole('img', { name: 'Shapes' }).locator('image').first();
	await expect(map).toHaveAttribute('href', /^data:image\/png/);
	const [lies, stage] = [
		(await map.boundingBox())!,
		(await page.getByRole('region', { name: 'Stage', exact: true }).boundingBox())!,
	];
	expect(lies.width).toBeGreaterThan(stage.width / 4);
	expect(lies.height).toBeGreaterThan(stage.height / 4);
	// In space there is nothing to fall back on, and that is said.
	await page.goto('/p/harl-quay');
	await expect(page.getByText(/The shapes cannot be drawn: it needs WebGL/)).toBeVisible();
});

test('five things get one rule in one gesture', async ({ page }) => {
	await newScene(page, 'space');
	await newQuery(page, 'overlap');
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	await page.getByRole('button', { name: 'Drop a row of crates' }).click();
	const rule = page.getByRole('region', { name: 'One rule for all' });
	await rule.getByLabel('Rule: prompt').fill('Heave {name}');
	await rule.getByLabel('Rule: action').fill('heave');
	await rule.getByRole('button', { name: 'Add' }).click();
	await expect(answer(page)).toContainText(/Heave Crate( \d)?/);
	await page.getByRole('button', { name: 'Undo: One rule for 5 objects' }).click();
	await expect(answer(page)).not.toContainText('Heave');
});

test('one key brings what is in hand into view, and with nothing in hand the query', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	const ruler = stage(page)
		.getByText(/^[\d.]+ (m|cm|mm|km)$/)
		.last();
	await page.getByRole('button', { name: 'Show all', exact: true }).click();
	const whole = await ruler.textContent();
	await takeInHand(page, 'Quay bell');
	await stage(page).focus();
	await page.keyboard.press('v');
	await expect(ruler).not.toHaveText(whole ?? '');
	const near = await ruler.textContent();
	await page.keyboard.press('Escape');
	await page.keyboard.press('v');
	await expect(ruler).not.toHaveText(near ?? '');
});
