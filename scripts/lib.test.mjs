import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { isInstalled } from './lib.mjs';

let base = '';
const put = async (path, data) => {
	await mkdir(join(base, path, '..'), { recursive: true });
	await writeFile(join(base, path), JSON.stringify(data));
};
const lock = {
	packages: {
		'': { name: 'top' },
		app: { name: 'app' },
		'node_modules/app': { link: true, resolved: 'app' },
		'node_modules/one': { version: '1.0.0' },
		'node_modules/two': { version: '2.0.0', dev: true },
		'node_modules/other-system': { version: '1.0.0', optional: true },
	},
};

beforeEach(async () => {
	base = await mkdtemp(join(tmpdir(), 'frelk-'));
	await put('package-lock.json', lock);
	await put('node_modules/.package-lock.json', {
		packages: { 'node_modules/one': { version: '1.0.0' }, 'node_modules/two': { version: '2.0.0' } },
	});
	await put('node_modules/one/package.json', {});
	await put('node_modules/two/package.json', {});
	await mkdir(join(base, 'node_modules/app'));
});
afterEach(() => rm(base, { recursive: true }));

it('takes what npm itself has put in place, whoever asked for it', () => expect(isInstalled(base)).toBe(true));

it.each([
	['no packages', () => rm(join(base, 'node_modules'), { recursive: true })],
	['an install that was killed before its end', () => rm(join(base, 'node_modules/.package-lock.json'))],
	['a folder that was removed', () => rm(join(base, 'node_modules/one'), { recursive: true })],
	[
		'development packages left out',
		() => put('node_modules/.package-lock.json', { packages: { 'node_modules/one': { version: '1.0.0' } } }),
	],
	[
		'another version',
		() => put('package-lock.json', { packages: { ...lock.packages, 'node_modules/one': { version: '1.0.1' } } }),
	],
	['a workspace that is not linked', () => rm(join(base, 'node_modules/app'), { recursive: true })],
	['a note that is cut off', () => writeFile(join(base, 'node_modules/.package-lock.json'), '{"packages": {')],
])('is not satisfied with %s', async (_name, spoil) => {
	await spoil();
	expect(isInstalled(base)).toBe(false);
});
