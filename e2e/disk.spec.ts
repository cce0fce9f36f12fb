/** Projects where they lie: a page, other programs and git all working on the same files. */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import {
	appendFileSync,
	chmodSync,
	cpSync,
	existsSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	renameSync,
	rmSync,
	writeFileSync,
} from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { storedText } from './stored';
import { type BrowserContext, test as base, expect, type Page } from './test';

const root = join(import.meta.dirname, '..');
const examples = join(root, 'examples');

/** A folder with two projects, and Frelk serving it; `again` starts it anew on the same port after `end`. */
class Served {
	readonly folder = mkdtempSync(join(tmpdir(), 'frelk-disk-'));
	readonly quay = join(this.folder, 'levels', 'quay.frelk.json');
	address = '';
	private process: ChildProcess | null = null;

	constructor(private readonly port: number) {
		mkdirSync(join(this.folder, 'levels'));
		cpSync(join(examples, 'harl-quay.frelk.json'), this.quay);
		cpSync(join(examples, 'pursers-desk.frelk.json'), join(this.folder, 'desk.frelk.json'));
	}

	async start(...more: string[]): Promise<void> {
		const args = [join(root, 'cli/bin/frelk.mjs'), 'open', this.folder, '--port', String(this.port), ...more];
		const child = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'inherit'] });
		this.process = child;
		let out = '';
		this.address = await new Promise((done, failed) => {
			child.stdout.on('data', (part) => {
				out += part;
				const found = /http:\S+key=\S+/.exec(out)?.[0];
				if (found) done(found);
			});
			child.on('exit', (code) => failed(new Error(`frelk open ended with ${code}: ${out}`)));
		});
		child.stdout.on('data', (part) => {
			this.address = /http:\S+key=\S+/.exec(String(part))?.[0] ?? this.address;
		});
	}

	async end(): Promise<void> {
		const child = this.process;
		this.process = null;
		if (!child) return;
		const over = new Promise((done) => child.once('exit', done));
		child.kill();
		await over;
	}

	/** Empty where it is not there. */
	text = () => (existsSync(this.quay) ? readFileSync(this.quay, 'utf8') : '');
	/** As an editor writes: beside it, then in its place. */
	write(text: string, file = this.quay): void {
		writeFileSync(`${file}.tmp~`, text);
		renameSync(`${file}.tmp~`, file);
	}
	replace = (from: string, to: string) => this.write(this.text().replace(from, to));
	git = (...args: string[]) =>
		execFileSync('git', ['-c', 'user.name=a', '-c', 'user.email=a@b', ...args], { cwd: this.folder, stdio: 'pipe' });
}

const freePort = (): Promise<number> =>
	new Promise((done) => {
		const server = createServer();
		server.listen(0, '127.0.0.1', () => {
			const { port } = server.address() as { port: number };
			server.close(() => done(port));
		});
	});

const test = base.extend<{ served: Served }>({
	served: async ({ playwright: _ }, use) => {
		const served = new Served(await freePort());
		await served.start();
		await use(served);
		await served.end();
		rmSync(served.folder, { recursive: true, force: true });
	},
});

const onDisk = (page: Page) => page.getByRole('region', { name: 'On disk' });
const name = (page: Page) => page.getByRole('textbox', { name: 'Project name' });
const status = (page: Page) => page.getByRole('banner').getByRole('status');

async function opened(context: BrowserContext, { address }: Served): Promise<Page> {
	const page = await context.newPage();
	await page.goto(address);
	await onDisk(page).getByRole('listitem').filter({ hasText: 'levels/quay.frelk.json' }).getByRole('link').click();
	await expect(page.getByRole('navigation', { name: 'Queries' })).toBeVisible();
	await expect(status(page)).toHaveText('Saved');
	return page;
}

/** Waits until an edit lies in the browser's store. */
const kept = (page: Page, text: string) =>
	expect.poll(() => storedText(page, page.url().split('/').at(-1) as string)).toContain(text);

async function rename(page: Page, to: string): Promise<void> {
	await name(page).fill(to);
	await name(page).press('Enter');
}

test('an edit is one line of the file, whoever wrote it, and undo gives the very bytes back', async ({
	context,
	served,
}) => {
	// Line ends, order, indentation and extras of somebody else's.
	const theirs = served
		.text()
		.replace('"name": "Quay at Harl",', '"name":   "Quay at Harl",\n\t"extras": { "built": 7 },')
		.replaceAll('\n', '\r\n');
	served.write(theirs);
	const page = await opened(context, served);
	await rename(page, 'Quay in the rain');
	await expect.poll(served.text).toContain('"name":   "Quay in the rain",');
	expect(served.text()).toBe(theirs.replace('"Quay at Harl"', '"Quay in the rain"'));
	await page.getByRole('button', { name: /^Undo/ }).click();
	await expect.poll(served.text).toBe(theirs);
	await expect(status(page)).toHaveText('Saved');
	// The history outlives the page, once it has been kept.
	await page.waitForTimeout(1000);
	await page.reload();
	await page.getByRole('button', { name: /^Redo/ }).click();
	await expect.poll(served.text).toContain('Quay in the rain');
});

test('home shows what lies there, with how its checks stand, and follows the folder', async ({ context, served }) => {
	cpSync(join(examples, 'harl-quay-before.frelk.json'), join(served.folder, 'before.frelk.json'));
	const page = await context.newPage();
	await page.goto(served.address);
	await expect(page).toHaveURL(/:\d+\/$/);
	const card = (text: string) => onDisk(page).getByRole('listitem').filter({ hasText: text });
	await expect(card('levels/quay.frelk.json')).toContainText('64 hold');
	await expect(card('before.frelk.json')).toContainText('4 fail');
	served.write('{ "format": "frelk/1", oops', join(served.folder, 'broken.frelk.json'));
	await expect(card('broken.frelk.json')).toContainText('Unreadable');
	rmSync(join(served.folder, 'before.frelk.json'));
	await expect(card('before.frelk.json')).toHaveCount(0);
	// One that is broken says where, and opens by itself when it is mended.
	await card('broken.frelk.json').getByRole('link').click();
	await expect(page.getByText('cannot be opened')).toBeVisible();
	served.write(readFileSync(join(served.folder, 'desk.frelk.json'), 'utf8'), join(served.folder, 'broken.frelk.json'));
	await expect(name(page)).toHaveValue("Purser's desk");
});

test('what changes outside comes in beside what is done here; where both changed the same that is said', async ({
	context,
	served,
}) => {
	const page = await opened(context, served);
	const query = page.getByRole('textbox', { name: 'Name of the query' });
	served.replace('"name": "Gaze"', '"name": "Long gaze"');
	await expect(query).toHaveValue('Long gaze');
	await expect(page.getByText('Taken in from the file: 1 change')).toBeVisible();
	await rename(page, 'Quay in the fog');
	await expect.poll(served.text).toContain('Quay in the fog');
	expect(served.text()).toContain('"Long gaze"');
	// Undo takes back what was done here alone.
	await page.getByRole('button', { name: /^Undo/ }).click();
	await expect.poll(served.text).not.toContain('Quay in the fog');
	expect(served.text()).toContain('"Long gaze"');

	// The same field on both sides, before either has heard of the other.
	await page.route('**/api/disk/save*', (route) => route.abort());
	await rename(page, 'Mine');
	await expect(status(page)).toHaveText('Not in the file');
	served.replace('"name": "Quay at Harl"', '"name": "Theirs"');
	const alert = page.getByRole('alert').filter({ hasText: 'Changed in two places.' });
	await expect(alert).toContainText('name. What you did here stands; undo takes what the other did.');
	await page.unroute('**/api/disk/save*');
	await expect.poll(served.text).toContain('"name": "Mine"');
	await alert.getByRole('button', { name: 'Take the other' }).click();
	await expect.poll(served.text).toContain('"name": "Theirs"');
});

test('a file that is broken outside keeps the last good state, and goes on when it is mended', async ({
	context,
	served,
}) => {
	const page = await opened(context, served);
	const good = served.text();
	served.replace('"queries": [', '"queries": [ oops');
	const alert = page.getByRole('alert').filter({ hasText: 'The file is broken.' });
	await expect(alert).toContainText(/line \d+/);
	await rename(page, 'Edited meanwhile');
	await expect(name(page)).toHaveValue('Edited meanwhile');
	await page.waitForTimeout(1000);
	expect(served.text()).toContain('oops');
	served.write(good.replace('"name": "Gaze"', '"name": "Mended gaze"'));
	await expect(alert).toHaveCount(0);
	await expect(page.getByRole('textbox', { name: 'Name of the query' })).toHaveValue('Mended gaze');
	await expect.poll(served.text).toContain('Edited meanwhile');
	// Or it is written over.
	served.write('nothing');
	await alert.getByRole('button', { name: 'Write this over it' }).click();
	await expect.poll(served.text).toContain('Edited meanwhile');
	await expect(alert).toHaveCount(0);
});

test('a file that is deleted, renamed or made read-only: said, and nothing is lost', async ({ context, served }) => {
	const page = await opened(context, served);
	rmSync(join(served.folder, 'levels'), { recursive: true });
	const alert = page.getByRole('alert');
	await expect(alert).toContainText('The file is gone.');
	await rename(page, 'Still here');
	await alert.getByRole('button', { name: 'Put it back' }).click();
	await expect.poll(served.text).toContain('Still here');
	await expect(alert).toHaveCount(0);
	const moved = join(served.folder, 'harbour.frelk.json');
	renameSync(served.quay, moved);
	await alert.getByRole('link', { name: 'Go on with it there' }).click();
	await expect(status(page)).toHaveText('Saved');
	chmodSync(moved, 0o444);
	await rename(page, 'Not allowed');
	await expect(alert).toContainText('Read-only.');
	expect(readFileSync(moved, 'utf8')).not.toContain('Not allowed');
	// Asked for while it may still not be written it is said again; once it may, it is written without being asked for.
	await alert.getByRole('button', { name: 'Try again' }).click();
	await expect(alert).toContainText('Read-only.');
	chmodSync(moved, 0o644);
	await expect.poll(() => readFileSync(moved, 'utf8')).toContain('Not allowed');
	await expect(alert).toHaveCount(0);
});

/** A file system that holds so many bytes, where this machine lets one be made. */
function mounted(folder: string, bytes: number): (() => void) | null {
	try {
		execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${bytes}`, 'tmpfs', folder], { stdio: 'pipe' });
		return () => execFileSync('umount', ['-l', folder]);
	} catch {
		return null;
	}
}

test('a disk that is full: the file stays whole, the edit is held, and is written when there is room', async ({
	context,
	served,
}) => {
	await served.end();
	const text = served.text();
	const levels = join(served.folder, 'levels');
	const unmount = mounted(levels, 1 << 18);
	test.skip(unmount === null, 'this machine lets no file system be mounted');
	try {
		served.write(text);
		await served.start();
		const page = await opened(context, served);
		const ballast = join(levels, 'ballast');
		// Until there is no room for so much as a byte.
		for (let size = 1 << 16; size >= 1; size = size > 4096 ? size / 2 : size === 4096 ? 1 : 0)
			try {
				for (;;) appendFileSync(ballast, Buffer.alloc(size));
			} catch (error) {
				expect((error as NodeJS.ErrnoException).code).toBe('ENOSPC');
			}
		await rename(page, 'Too much');
		const alert = page.getByRole('alert');
		await expect(alert).toContainText('there is no room left on the disk');
		expect(served.text()).toBe(text);
		expect(readdirSync(levels).sort()).toEqual(['ballast', 'quay.frelk.json']);
		rmSync(ballast);
		await alert.getByRole('button', { name: 'Try again' }).click();
		await expect.poll(served.text).toContain('Too much');
		await expect(alert).toHaveCount(0);
		await expect(status(page)).toHaveText('Saved');
	} finally {
		await served.end();
		unmount?.();
	}
});

test('edits that could not be written are there again, and offered where the file is another one since', async ({
	context,
	served,
}) => {
	let page = await opened(context, served);
	await served.end();
	await rename(page, 'Without a server');
	await expect(page.getByRole('alert')).toContainText('cannot be reached');
	await kept(page, 'Without a server');
	await page.close();
	// Nobody else wrote: they go into the file when it can be reached again.
	await served.start();
	page = await opened(context, served);
	await expect(name(page)).toHaveValue('Without a server');
	await expect.poll(served.text).toContain('Without a server');
	await served.end();
	await rename(page, 'Held back');
	await expect(page.getByRole('alert')).toContainText('cannot be reached');
	await kept(page, 'Held back');
	await page.close();
	served.replace('"name": "Gaze"', '"name": "Their gaze"');
	await served.start();
	page = await context.newPage();
	await page.goto(served.address);
	await expect(onDisk(page)).toContainText('Edits in this browser are not in the file.');
	await onDisk(page)
		.getByRole('link', { name: /quay|Without a server/ })
		.click();
	const alert = page.getByRole('alert').filter({ hasText: 'Edits that are not in the file.' });
	await expect(alert).toBeVisible();
	expect(served.text()).not.toContain('Held back');
	await alert.getByRole('button', { name: 'Take the file as it is' }).click();
	await expect(name(page)).toHaveValue('Without a server');
	await expect(page.getByRole('textbox', { name: 'Name of the query' })).toHaveValue('Their gaze');
	// A step like any other.
	await page.getByRole('button', { name: /^Undo/ }).click();
	await expect.poll(served.text).toContain('Held back');
});

test('ten tabs follow the file and each other, and a checkout of another branch', async ({ context, served }) => {
	// A small one: ten pages at once are much for two cores.
	cpSync(join(served.folder, 'desk.frelk.json'), served.quay);
	for (let n = 0; n < 50; n++) cpSync(served.quay, join(served.folder, 'levels', `more-${n}.frelk.json`));
	served.git('init', '-q', '-b', 'main');
	served.git('add', '.');
	served.git('commit', '-qm', 'one');
	served.git('checkout', '-qb', 'rain');
	for (let n = 0; n < 50; n++)
		served.write(
			served.text().replace("Purser's desk", `Rain ${n}`),
			join(served.folder, 'levels', `more-${n}.frelk.json`),
		);
	served.replace('"name": "Purser\'s desk"', '"name": "Desk in the rain"');
	served.git('commit', '-qam', 'rain');
	served.git('checkout', '-q', 'main');
	const first = await opened(context, served);
	const pages = [first];
	for (let n = 1; n < 10; n++) {
		const page = await context.newPage();
		await page.goto(first.url());
		pages.push(page);
	}
	for (const page of pages) await expect(status(page)).toHaveText('Saved');
	served.git('checkout', '-q', 'rain');
	for (const page of pages) await expect(name(page)).toHaveValue('Desk in the rain');
	served.git('checkout', '-q', 'main');
	for (const page of pages) await expect(name(page)).toHaveValue("Purser's desk");
	// The tab that listened goes; another one does, and edits still reach all.
	await first.close();
	const rest = pages.slice(1) as [Page, ...Page[]];
	await rename(rest[0], 'From a tab');
	for (const page of rest) await expect(name(page)).toHaveValue('From a tab');
	await expect.poll(served.text).toContain('From a tab');
	served.git('checkout', '-q', '--', '.');
	for (const page of rest) await expect(name(page)).toHaveValue("Purser's desk");
	// Where it was edited a moment before, that is said.
	for (const page of rest.slice(1)) await expect(page.getByRole('alert')).toHaveCount(0);
	expect(String(served.git('status', '--short'))).toBe('');
	// What was edited since the last commit, in words.
	for (const page of rest.slice(1)) await page.close();
	await rename(rest[0], 'Since the commit');
	await rest[0].goto(`${rest[0].url().replace(/\/$/, '')}/checks?tab=compare`);
	await rest[0].getByRole('button', { name: 'Compare with the last commit' }).click();
	await expect(rest[0].getByText(/Since the commit/).first()).toBeVisible();
});

test('a link to a project on disk names its file, and what is shown', async ({ context, served }) => {
	await context.grantPermissions(['clipboard-read', 'clipboard-write']);
	const page = await opened(context, served);
	await page
		.getByRole('navigation', { name: 'Queries' })
		.getByRole('button', { name: /^Reach/ })
		.click();
	await page.getByRole('button', { name: 'Export' }).click();
	await page.getByRole('button', { name: 'Copy a link' }).click();
	await expect(page.getByText('The link is on the clipboard.')).toBeVisible();
	const link = await page.evaluate(() => navigator.clipboard.readText());
	expect(link).toMatch(/\/file\?file=levels%2Fquay\.frelk\.json&query=reach$/);
	const other = await context.newPage();
	await other.goto(link);
	await expect(other.getByRole('textbox', { name: 'Name of the query' })).toHaveValue('Reach');
	await other.goto(link.replace('quay.frelk', 'nothing.frelk'));
	await expect(other.getByText('There is no file levels/nothing.frelk.json here')).toBeVisible();
});

test('without the key nothing of the disk is told, and each key opens one browser', async ({
	browser,
	context,
	served,
}) => {
	const link = served.address;
	const page = await context.newPage();
	await page.goto(link);
	await expect(onDisk(page)).toContainText('levels/quay.frelk.json');
	const cookies = await context.cookies();
	expect(cookies.map(({ httpOnly, sameSite }) => ({ httpOnly, sameSite }))).toEqual([
		{ httpOnly: true, sameSite: 'Strict' },
	]);
	const stranger = await browser.newContext();
	const strange = await stranger.newPage();
	const used = await strange.goto(link);
	expect(used?.status()).toBe(403);
	await strange.goto(new URL('/', link).href);
	await expect(onDisk(strange)).toContainText('Open Frelk with the address that the terminal shows');
	expect(await strange.content()).not.toContain('quay.frelk.json');
	// The terminal has shown another one meanwhile.
	await strange.goto(served.address);
	await expect(onDisk(strange)).toContainText('levels/quay.frelk.json');
	await stranger.close();
});

test('read-only is read-only', async ({ context, served }) => {
	await served.end();
	await served.start('--read-only');
	const page = await context.newPage();
	await page.goto(served.address);
	await expect(onDisk(page).getByRole('heading')).toHaveText('On diskread-only');
	await onDisk(page).getByRole('link', { name: /quay/i }).click();
	await expect(status(page)).toHaveText('Read-only');
	const before = served.text();
	await rename(page, 'Mine alone');
	await expect(page.getByRole('alert')).toContainText('Read-only.');
	await page.waitForTimeout(800);
	expect(served.text()).toBe(before);
});
