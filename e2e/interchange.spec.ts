/** Levels in, traces of a game, ways out, and a page that stays with the server gone. */
import { execFile, execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { dracoFloor } from '../interchange/src/tests/draco-level';
import { expect, type Page, test } from './test';

const game = join(import.meta.dirname, '../examples/stand-in-game.mjs');
const folder = mkdtempSync(join(tmpdir(), 'frelk-e2e-'));
const answer = (page: Page) => page.getByRole('region', { name: 'Answer' });

/** A level of boxes by name: their middles and sizes. */
function level(boxes: Record<string, { at: number[]; size: number[] }>): string {
	const names = Object.keys(boxes);
	return JSON.stringify({
		asset: { version: '2.0' },
		scene: 0,
		scenes: [{ nodes: names.map((_, i) => i) }],
		nodes: names.map((name, i) => ({
			name,
			translation: boxes[name].at,
			extensions: { KHR_physics_rigid_bodies: { collider: { geometry: { shape: i } } } },
		})),
		extensionsUsed: ['KHR_implicit_shapes', 'KHR_physics_rigid_bodies'],
		extensions: {
			KHR_implicit_shapes: { shapes: names.map((name) => ({ type: 'box', box: { size: boxes[name].size } })) },
		},
	});
}

/** Drops files on the page as a hand does. */
async function drop(page: Page, files: { name: string; text: string }[]): Promise<void> {
	const transfer = await page.evaluateHandle((list) => {
		const data = new DataTransfer();
		for (const { name, text } of list) data.items.add(new File([text], name));
		return data;
	}, files);
	await page.dispatchEvent('body', 'dragover', { dataTransfer: transfer });
	await expect(page.getByText('Drop a level or a trace of the game')).toBeVisible();
	await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
}

test('a level packed by Draco is unpacked in the page', async ({ page }) => {
	await page.goto('/');
	await page.getByRole('button', { name: 'New space scene' }).click();
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
	const bytes = [...(await dracoFloor('Landing'))];
	const transfer = await page.evaluateHandle((list) => {
		const data = new DataTransfer();
		data.items.add(new File([new Uint8Array(list)], 'landing.glb'));
		return data;
	}, bytes);
	await page.dispatchEvent('body', 'dragover', { dataTransfer: transfer });
	await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
	await expect(page.getByRole('heading', { name: 'Read landing.glb' })).toBeVisible();
	await expect(page.getByRole('button', { name: /^Landing mesh, 512 triangles/ })).toBeVisible();
	await page.getByRole('button', { name: 'Take it into the project' }).click();
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
});

const yard = { door_trigger: { at: [0, 1, -1], size: [1, 2, 0.2] }, crate: { at: [4, 0.5, -6], size: [1, 1, 1] } };

test('a level is dropped, a rule made, taken and asked about; read again it says what it breaks', async ({ page }) => {
	await page.goto('/');
	await page.getByRole('button', { name: 'New space scene' }).click();
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
	await drop(page, [{ name: 'yard.gltf', text: level(yard) }]);
	await expect(page.getByRole('heading', { name: 'Read yard.gltf' })).toBeVisible();
	await expect(page.getByText('2 nodes, 2 match no rule')).toBeVisible();
	await page.getByRole('button', { name: 'Add a rule' }).click();
	await page.getByLabel('Rule 1: what it matches').fill('*_trigger');
	await page.getByLabel('Rule 1: layer').fill('sensors');
	await page.getByLabel('Rule 1: role').selectOption({ label: 'sensor' });
	await page.getByLabel('Rule 1: prompt').fill('Go in');
	await expect(page.getByRole('listitem', { name: 'Rule 1' })).toContainText('1 match');
	await expect(page.getByText('2 nodes, 1 match no rule')).toBeVisible();
	await page.getByRole('button', { name: 'No rule', exact: true }).click();
	await expect(page.getByText('1 shown')).toBeVisible();
	await page.getByRole('button', { name: 'Take it into the project' }).click();
	// Asked about: a ray from the person ahead.
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
	await page.getByRole('navigation', { name: 'Queries' }).getByRole('button', { name: /^New/ }).click();
	await page.getByRole('button', { name: /^ray/i }).first().click();
	await expect(answer(page)).toContainText('door_trigger');
	await expect(answer(page)).toContainText('Go in');
	await answer(page)
		.getByRole('button', { name: /Keep this answer/ })
		.click();
	await expect(page.getByRole('banner')).toContainText('1 hold');
	// The level has become another: the door is elsewhere.
	await drop(page, [
		{ name: 'yard.gltf', text: level({ ...yard, door_trigger: { at: [9, 1, -1], size: [1, 2, 0.2] } }) },
	]);
	const does = page.getByRole('complementary', { name: 'What it does' });
	await expect(does.getByRole('region', { name: 'Answers that change' })).toContainText('door_trigger → none');
	await expect(does).toContainText('1 move');
	await expect(does).toContainText('door_trigger by 9 m');
	await expect(page.getByLabel('Rule 1: what it matches')).toHaveValue('*_trigger');
	await page.getByRole('button', { name: 'Take it into the project' }).click();
	await expect(page.getByRole('banner')).toContainText('1 fail');
	await page.keyboard.press('Control+z');
	await expect(page.getByRole('banner')).toContainText('1 hold');
});

test('a level that is none says the place, and nothing is lost', async ({ page }) => {
	await page.goto('/p/harl-quay');
	await expect(answer(page)).toContainText('Gangway crank');
	await drop(page, [{ name: 'broken.gltf', text: '{"asset":{"version":"2.0"},"nodes":[{"children":[0]}]}' }]);
	await expect(page.getByRole('alert')).toContainText('nodes[0]');
	await page.getByRole('button', { name: 'Back to the bench' }).click();
	await expect(answer(page)).toContainText('Gangway crank');
	// Neither a level nor a trace.
	const transfer = await page.evaluateHandle(() => {
		const data = new DataTransfer();
		data.items.add(new File(['x'], 'notes.txt'));
		return data;
	});
	await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
	await expect(page.getByRole('alert')).toContainText('notes.txt is neither');
});

test('a trace is dropped, its first difference opened, and kept as a moment and as a run', async ({ page }) => {
	const trace = execFileSync(process.execPath, [game], { encoding: 'utf8' });
	await page.goto('/p/deck-from-above');
	await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
	await drop(page, [{ name: 'deck.jsonl', text: `${trace}{"t":` }]);
	const beside = page.getByRole('complementary', { name: 'Beside the trace' });
	await expect(beside).toContainText('181 lines, 181 asked, 87 differ');
	await expect(beside.getByRole('alert')).toContainText('line 183: is not JSON');
	await page.getByRole('button', { name: 'Next difference' }).click();
	const got = page.getByRole('region', { name: 'What the game got' });
	await expect(got).toContainText(/the game took .*; Frelk selects/);
	await expect(page.getByRole('slider', { name: 'Line of the trace' })).not.toHaveValue('0');
	// What the game did wrong is asked here as it did: a body as thin as a ray agrees.
	await page.getByRole('button', { name: 'Keep as a moment' }).click();
	await page.getByRole('button', { name: 'A run from here…' }).click();
	await page.getByRole('slider', { name: 'Line of the trace' }).fill('180');
	await page.getByRole('button', { name: /^Keep lines \d+ to 182 as a run/ }).click();
	await expect(page.getByRole('navigation', { name: 'Run-throughs' })).toContainText('deck.jsonl, lines');
	// It is there after a reload, until it is closed.
	await expect(page.getByRole('banner')).toContainText('Saved');
	await page.reload();
	await expect(page.getByRole('region', { name: 'Traces of the game' })).toContainText('87 differ');
	await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Bench' }).click();
	await expect(page.getByRole('combobox', { name: /moment/i }).first()).toContainText('deck.jsonl, line');
});

test('a running game is followed line by line; paused it stays, and a wrong token is told so', async ({
	page,
	request,
	baseURL,
}) => {
	const refused = await request.post('/api/trace?project=deck-from-above', {
		headers: { Authorization: 'Bearer no' },
		data: '{"t":0}',
	});
	expect(refused.status()).toBe(401);
	await page.goto('/p/deck-from-above/time');
	await page.getByRole('button', { name: 'Follow the game' }).click();
	const beside = page.getByRole('complementary', { name: 'Beside the trace' });
	await expect(beside).toContainText('Listening');
	const play = (seconds: number) =>
		new Promise<void>((done, failed) =>
			execFile(
				process.execPath,
				[game, '--live', baseURL ?? '', '--token', 'e2e-token', '--seconds', String(seconds)],
				(error) => (error ? failed(error) : done()),
			),
		);
	await play(2);
	await expect(beside).toContainText(/61 lines, 61 asked, \d+ differ/);
	await expect(page.getByRole('slider', { name: 'Line of the trace' })).toHaveValue('60');
	await page.getByRole('button', { name: 'Pause' }).click();
	await play(1);
	await expect(beside).toContainText('92 lines');
	await expect(page.getByRole('slider', { name: 'Line of the trace' })).toHaveValue('60');
	await page.getByRole('button', { name: 'Follow', exact: true }).click();
	await expect(page.getByRole('slider', { name: 'Line of the trace' })).toHaveValue('91');
	await page.getByRole('button', { name: 'Close the trace' }).click();
	await expect(beside).toHaveCount(0);
});

test('a project leaves as a level and as constants; the level comes back the very same', async ({ page }) => {
	await page.goto('/p/harl-quay');
	const saved = async (name: string) => {
		await page.getByRole('banner').getByRole('button', { name: 'Export' }).click();
		const [download] = await Promise.all([
			page.waitForEvent('download'),
			page.getByRole('dialog', { name: 'Export' }).getByRole('button', { name }).click(),
		]);
		const path = join(folder, download.suggestedFilename());
		await download.saveAs(path);
		await page.keyboard.press('Escape');
		return path;
	};
	const header = await saved('Constants, C++');
	expect(readFileSync(header, 'utf8')).toContain('constexpr std::uint32_t Walls = 0x00000002u;');
	const glb = await saved('Level, glTF (.glb)');
	await page.goto('/');
	await page.getByLabel('Project files to import').setInputFiles(glb);
	await expect(answer(page)).toContainText('Gangway crank');
	const project = await saved('Project file');
	expect(readFileSync(project, 'utf8')).toBe(
		readFileSync(join(import.meta.dirname, '../examples/harl-quay.frelk.json'), 'utf8'),
	);
});

test('a level of ours that was edited elsewhere is read by its nodes, and the page says so first', async ({ page }) => {
	const file = join(folder, 'quay.gltf');
	const root = join(import.meta.dirname, '..');
	const quay = join(root, 'examples/harl-quay.frelk.json');
	execFileSync(process.execPath, [join(root, 'cli/bin/frelk.mjs'), 'export', quay, '--gltf', file]);
	const json = JSON.parse(readFileSync(file, 'utf8'));
	json.nodes.find((n: { name?: string }) => n.name === 'Quay bell').translation[0] += 0.5;
	writeFileSync(file, JSON.stringify(json));
	await page.goto('/');
	await page.getByLabel('Project files to import').setInputFiles(file);
	await expect(page.getByRole('note')).toContainText(
		'The project in it is not taken: the file was edited elsewhere since (Quay bell is not as it was); its nodes are read.',
	);
	await expect(page.getByRole('note')).toBeInViewport();
});

test.describe('with the server gone', () => {
	test.use({ serviceWorkers: 'allow' });
	test('every view of every project opens, and what is done there is kept', async ({ context }) => {
		const page = await context.newPage();
		await page.goto('/');
		await page.evaluate(async () => void (await navigator.serviceWorker.ready));
		// Said when all is there; what a browser in need of room threw away is fetched again at the next opening.
		await expect(page.getByText('Ready offline')).toBeVisible({ timeout: 40_000 });
		await page.evaluate(async () => {
			for (const name of await caches.keys()) await caches.delete(name);
		});
		await page.reload();
		await expect(page.getByText('Ready offline')).toBeVisible({ timeout: 40_000 });
		// Kept whole before the network goes.
		await expect
			.poll(() => page.evaluate(async () => (await navigator.serviceWorker.getRegistration())?.active?.state), {
				timeout: 30_000,
			})
			.toBe('activated');
		await context.setOffline(true);
		for (const [path, text] of [
			['/p/harl-quay', 'Gangway crank'],
			['/p/harl-quay/checks', '64 hold'],
			['/p/harl-quay/filters', 'Queries by layers'],
			['/p/harl-quay/time', 'Walk past cranks and cleats'],
			['/guide', 'The first answer'],
			['/', 'Projects'],
		] as const) {
			await page.goto(path);
			await expect(page.locator('body'), path).toContainText(text);
		}
		// An example nobody has opened yet, and a change that is there after a reload.
		await page.getByRole('button', { name: /Open a copy of Deck from above/ }).click();
		await expect(page.getByRole('application', { name: 'Scene' })).toBeVisible();
		await page.getByLabel('Project name').fill('Far from any server');
		await page.keyboard.press('Enter');
		await expect(page.getByRole('banner')).toContainText('Saved');
		await page.reload();
		await expect(page.getByLabel('Project name')).toHaveValue('Far from any server');
	});
});
