// `npm run browsers`: a core of the end-to-end tests in Firefox and WebKit from Debian's packages. A browser that cannot be had here is told and
// left out; what fails in one that can ends with 1.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { createServer } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import puppeteer from 'puppeteer-core';
import { Builder, Capabilities, Origin } from 'selenium-webdriver';
import { root, run } from './lib.mjs';

const FIREFOX = [process.env.FIREFOX, '/usr/bin/firefox-esr', '/usr/bin/firefox'];
const DRIVER = '/usr/bin/WebKitWebDriver';
/** Of a page on a machine without a graphics card. */
const PATIENCE = 60_000;

const freePort = () =>
	new Promise((resolve, reject) => {
		const server = createServer().on('error', reject);
		server.listen(0, '127.0.0.1', () => {
			const { port } = server.address();
			server.close(() => resolve(port));
		});
	});

/** Fetches Debian packages where this machine has such. @returns whether they were put in place */
async function fetched(packages) {
	if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) return false;
	console.log(`Installing ${packages.join(', ')} from Debian…`);
	const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
	try {
		await run('apt-get', ['update', '-qq'], { env });
		await run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], { env });
		return true;
	} catch {
		return false;
	}
}

/** A process of ours and what it started, ended with it. */
function started(command, args, env = {}) {
	const child = spawn(command, args, { cwd: root, stdio: 'ignore', detached: true, env: { ...process.env, ...env } });
	return () => {
		try {
			process.kill(-child.pid);
		} catch {
			// It has ended by itself.
		}
	};
}

async function answering(url) {
	for (const end = Date.now() + PATIENCE; Date.now() < end; await sleep(200)) {
		const response = await fetch(url).catch(() => null);
		if (response) return;
	}
	throw new Error(`Nothing answers at ${url}.`);
}

/** Firefox by its own protocol. */
async function firefox() {
	let path = FIREFOX.find((at) => at && existsSync(at));
	if (!path && (await fetched(['firefox-esr']))) path = FIREFOX.find((at) => at && existsSync(at));
	if (!path) return null;
	const browser = await puppeteer.launch({ browser: 'firefox', executablePath: path, headless: true });
	const page = await browser.newPage();
	await page.setViewport({ width: 1280, height: 800 });
	const faults = [];
	let isLeaving = false;
	page.on('pageerror', ({ message }) => {
		// What was on its way when a page is left fails, and is nobody's fault.
		const isUnderway = isLeaving && /error loading dynamically imported module/.test(message);
		if (!isUnderway && !/^Failed to load /.test(message)) faults.push(message);
	});
	return {
		version: await browser.version(),
		faults,
		async go(url) {
			await page.goto(url, { waitUntil: 'load' });
			isLeaving = false;
		},
		/** Sets off without waiting for the end. */
		async set(url) {
			isLeaving = true;
			await page.evaluate((to) => void setTimeout(() => location.assign(to), 0), url);
		},
		address: async () => page.url(),
		look: (script) => page.evaluate(`(() => ${script})()`),
		async press(script) {
			const handle = await page.evaluateHandle(`(() => ${script})()`);
			await handle.click();
		},
		async type(script, text) {
			const handle = await page.evaluateHandle(`(() => ${script})()`);
			await handle.click({ count: 3 });
			await page.keyboard.type(text);
			await page.keyboard.press('Enter');
		},
		async drag({ x, y }, [dx, dy]) {
			await page.mouse.move(x, y);
			await page.mouse.down();
			await page.mouse.move(x + dx, y + dy, { steps: 6 });
			await page.mouse.up();
		},
		close: () => browser.close(),
	};
}

const KEEP_FAULTS = `
	if (!globalThis.faults) {
		globalThis.faults = [];
		const keep = (why) => globalThis.faults.push(String(why?.message ?? why));
		addEventListener('error', (event) => keep(event.error ?? event.message));
		addEventListener('unhandledrejection', (event) => keep(event.reason));
	}`;

/** WebKit by the driver of its GTK port, on a screen that nobody sees. */
async function webkit() {
	const needs = ['webkit2gtk-driver', 'xvfb', 'xauth', 'dbus'];
	const has = () => [DRIVER, '/usr/bin/xvfb-run', '/usr/bin/dbus-run-session'].every((path) => existsSync(path));
	if (!has() && !(await fetched(needs))) return null;
	if (!has()) return null;
	const port = await freePort();
	const end = started(
		'dbus-run-session',
		['--', 'xvfb-run', '-a', '-s', '-screen 0 1400x900x24', DRIVER, `--port=${port}`, '--host=127.0.0.1'],
		{ WEBKIT_DISABLE_SANDBOX_THIS_IS_DANGEROUS: '1', LIBGL_ALWAYS_SOFTWARE: '1' },
	);
	try {
		await answering(`http://127.0.0.1:${port}/status`);
		const driver = await new Builder()
			.usingServer(`http://127.0.0.1:${port}`)
			.withCapabilities(new Capabilities({ browserName: 'MiniBrowser' }))
			.build();
		await driver.manage().window().setRect({ width: 1280, height: 880 });
		const capabilities = await driver.getCapabilities();
		const find = (script) => driver.executeScript(`return (() => ${script})()`);
		const faults = [];
		/** The driver tells of no errors: the page keeps them itself from its first moment that can be reached, and they are fetched before it is left. */
		const fetchFaults = async () =>
			faults.push(...((await driver.executeScript('return globalThis.faults?.splice(0) ?? []').catch(() => [])) ?? []));
		return {
			version: `WebKitGTK ${capabilities.getBrowserVersion() ?? ''}`.trim(),
			faults,
			async go(url) {
				await fetchFaults();
				await driver.get(url);
				await driver.executeScript(KEEP_FAULTS);
			},
			fetchFaults,
			set: (url) => driver.executeScript(`setTimeout(() => location.assign(${JSON.stringify(url)}), 0)`),
			address: () => driver.getCurrentUrl(),
			look: find,
			press: async (script) => (await find(script)).click(),
			async type(script, text) {
				const field = await find(script);
				await field.clear();
				await field.sendKeys(text, '\uE007');
			},
			async drag({ x, y }, [dx, dy]) {
				const at = (fx) => ({
					x: Math.round(x + fx * dx),
					y: Math.round(y + fx * dy),
					origin: Origin.VIEWPORT,
					duration: 50,
				});
				const actions = driver.actions({ async: true }).move(at(0)).press();
				for (let i = 1; i <= 6; i++) actions.move(at(i / 6));
				await actions.release().perform();
			},
			async close() {
				await driver.quit().catch(() => {});
				end();
			},
		};
	} catch (error) {
		end();
		throw error;
	}
}

const text = (selector) => `document.querySelector(${JSON.stringify(selector)})?.textContent ?? ''`;
const ANSWER = text('[aria-label=Answer]');
const one = (selector, begins) =>
	`{ return [...document.querySelectorAll(${JSON.stringify(selector)})].find((e) => e.textContent.trim().startsWith(${JSON.stringify(begins)})); }`;

/** Waits until what is looked at has it. */
async function has(browser, script, wanted) {
	let seen;
	for (const end = Date.now() + PATIENCE; Date.now() < end; await sleep(150)) {
		// A page that is just changing has nothing to look at.
		seen = await browser.look(script).catch((error) => error.message);
		if (typeof wanted === 'string' ? String(seen).includes(wanted) : wanted(seen)) return;
	}
	throw new Error(`${script} has ${JSON.stringify(String(seen).slice(0, 300))} and not ${wanted}`);
}

/** Whether the stage stands: a canvas of its size, drawn, or said that this browser gives no WebGL here, which is the machine's matter. */
const DRAWN = `{
	const stage = document.querySelector('[aria-label=Stage]');
	const canvas = stage?.querySelector('canvas');
	const stands = canvas != null && canvas.width > 100 && canvas.height > 100 && !/drawing…|cannot be drawn/.test(stage.textContent);
	return stands ? 'drawn' : (stage?.textContent.match(/cannot be drawn: it needs WebGL/)?.[0] ?? 'not yet');
}`;

/** Where an object's mark stands on the stage, in pixels of the window. */
const MARK = (name) => `{
	const named = [...document.querySelectorAll('[aria-label=Stage] svg text')].find((e) => e.textContent === ${JSON.stringify(name)});
	const box = named?.parentElement.querySelector('rect')?.getBoundingClientRect();
	return box ? { x: box.left + box.width / 2, y: box.top + box.height / 2 } : null;
}`;
const UNDO = `document.querySelector('[aria-label^="Undo"]')?.getAttribute('aria-label')`;
/** Files dropped on the page as a hand does. */
const DROPPED = (name, content) => `{
	const dataTransfer = new DataTransfer();
	dataTransfer.items.add(new File([${JSON.stringify(content)}], ${JSON.stringify(name)}));
	for (const type of ['dragover', 'drop'])
		document.body.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer }));
}`;
const shape = (size) => ({ type: 'box', box: { size } });
const node = (name, translation, i) => ({
	name,
	translation,
	extensions: { KHR_physics_rigid_bodies: { collider: { geometry: { shape: i } } } },
});
const YARD = {
	asset: { version: '2.0' },
	scenes: [{ nodes: [0, 1] }],
	nodes: [node('door', [0, 1, -1], 0), node('crate', [4, 0.5, -6], 1)],
	extensionsUsed: ['KHR_implicit_shapes', 'KHR_physics_rigid_bodies'],
	extensions: { KHR_implicit_shapes: { shapes: [shape([1, 2, 0.2]), shape([1, 1, 1])] } },
};

const STORY = [
	[
		'the list of projects stands',
		async (b, at) => {
			await b.go(at);
			await has(b, text('main'), 'Examples');
		},
	],
	[
		'the demo answers, and the stage stands',
		async (b, at) => {
			await b.go(`${at}p/harl-quay`);
			await has(b, ANSWER, 'Gangway crank');
			await has(b, DRAWN, (how) => how === 'drawn' || /needs WebGL/.test(how));
			await has(b, text('header'), '64 hold');
		},
	],
	[
		'another query is chosen, and it is a tie',
		async (b) => {
			await b.press(one('[aria-label=Queries] button', 'Reach'));
			await has(b, ANSWER, 'Port cleat');
			await has(b, ANSWER, 'Tie');
		},
	],
	[
		'a name is changed, saved, and there after a reload',
		async (b, at) => {
			await b.type(`document.querySelector('[aria-label="Project name"]')`, 'Quay elsewhere');
			await has(b, text('header [role=status]'), 'Saved');
			await sleep(1200);
			await b.go(`${at}p/harl-quay`);
			await has(b, `document.querySelector('[aria-label="Project name"]')?.value`, 'Quay elsewhere');
		},
	],
	[
		'a page that is left early stays left',
		async (b, at) => {
			for (let i = 0; i < 5; i++) {
				await b.go(`${at}p/harl-quay`);
				await sleep(100 * i);
				await b.set(`${at}guide`);
				await has(b, 'document.body.textContent', 'The first answer');
				await sleep(700);
				const now = await b.address();
				if (!now.endsWith('/guide')) throw new Error(`It went to the guide and is at ${now}.`);
			}
		},
	],
	[
		'every view stands',
		async (b, at) => {
			for (const [view, wanted] of [
				['checks', 'Gaze'],
				['filters', 'Queries by layers'],
				['time', 'Walk past cranks and cleats'],
			]) {
				await b.go(`${at}p/harl-quay/${view}`);
				await has(b, text('main'), wanted);
			}
		},
	],
	[
		'a flat scene answers',
		async (b, at) => {
			await b.go(`${at}p/deck-from-above`);
			await has(b, ANSWER, 'Gull on the planks');
		},
	],
	[
		'an object is dragged on the stage, and put back',
		async (b) => {
			const mast = MARK('Mast');
			const X = `document.querySelector('[aria-label="Card: Mast"] [aria-label=X]')?.value`;
			// Taken in hand by a press where it stands; with its card out of the way it goes with the hand.
			await b.drag(await b.look(mast), [0, 0]);
			await has(b, `document.querySelector('[aria-label="Card: Mast"]') !== null`, Boolean);
			await b.press(`document.querySelector('[aria-label="Put the card over the queries"]')`);
			await b.drag(await b.look(mast), [-40, 120]);
			await has(b, UNDO, 'Undo: Move');
			await has(b, X, (x) => x !== '-0.4');
			await b.press(`document.querySelector('[aria-label^="Undo: "]')`);
			await has(b, X, '-0.4');
			await has(b, UNDO, (what) => what === 'Undo');
		},
	],
	[
		'a level is dropped, and its objects are told',
		async (b, at) => {
			await b.go(`${at}p/harl-quay`);
			await has(b, ANSWER, 'Gangway crank');
			await b.look(DROPPED('yard.gltf', JSON.stringify(YARD)));
			await has(b, text('main'), 'Read yard.gltf');
			await has(b, text('main'), '2 nodes, 2 match no rule');
			await b.press(one('main button', 'Take it into the project'));
			await has(b, UNDO, 'Undo: ');
		},
	],
];

async function play(name, launch, at) {
	const browser = await launch().catch((error) => {
		console.log(`${name}: could not be started here: ${error.message}`);
		return null;
	});
	if (!browser) {
		console.log(`${name}: cannot be had on this machine; left out`);
		return true;
	}
	console.log(`${name}: ${browser.version}`);
	try {
		for (const [what, step] of STORY) {
			const begun = Date.now();
			await step(browser, at);
			console.log(`  ✓ ${what} (${((Date.now() - begun) / 1000).toFixed(1)} s)`);
		}
		await browser.fetchFaults?.();
		if (browser.faults.length > 0) throw new Error(`The page had errors: ${browser.faults.join('; ')}`);
		return true;
	} catch (error) {
		console.error(`  ✘ ${error.message}`);
		return false;
	} finally {
		await browser.close();
	}
}

const port = await freePort();
const at = `http://127.0.0.1:${port}/`;
const end = started(process.execPath, ['scripts/start.mjs'], { PORT: String(port), FRELK_TOKEN: 'browsers' });
let well = true;
try {
	await answering(at);
	const wanted = process.argv.slice(2);
	for (const [name, launch] of Object.entries({ firefox, webkit }))
		if (wanted.length === 0 || wanted.includes(name)) {
			// A shared machine may be slow; what fails twice is broken.
			const once = await play(name, launch, at);
			if (!once) console.log(`${name}: once more`);
			well = (once || (await play(name, launch, at))) && well;
		}
} catch (error) {
	console.error(error.message);
	well = false;
} finally {
	end();
}
process.exit(well ? 0 : 1);
