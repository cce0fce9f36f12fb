/** `frelk map` and checks of maps: what is printed, drawn and refused. */
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { frelk as asProcess, desk, inProcess as frelk, quay } from './tests/command';

const folder = mkdtempSync(join(tmpdir(), 'frelk-map-'));
const file = (name: string, text?: string): string => {
	const path = join(folder, name);
	if (text !== undefined) writeFileSync(path, text);
	return path;
};

describe('frelk map', () => {
	it('prints every cell in JSON, and the same as a table', async () => {
		const csv = file('pile.csv');
		const { code, out, err } = await frelk(['map', desk, '--json', '--csv', csv]);
		expect([code, err]).toEqual([0, '']);
		const data = JSON.parse(out);
		expect(data).toMatchObject({ format: 'frelk-maps/1', project: 'pursers-desk' });
		const [map] = data.maps;
		expect(map).toMatchObject({ map: 'pile-map', columns: 160, rows: 90, headings: null });
		expect(map.cells).toHaveLength(160 * 90);
		// The two stubs of one depth.
		expect(map.cells.filter((c: number) => c === -2).length / map.cells.length).toBeCloseTo(map.figures.tied, 12);
		expect(map.figures.tied).toBeGreaterThan(0);
		const opener = map.figures.objects.find((o: { object: string }) => o.object === 'letter-opener');
		expect(opener.circle).toBeLessThan(24);
		const lines = readFileSync(csv, 'utf8').trim().split('\r\n');
		expect(lines).toHaveLength(1 + 160 * 90);
		expect(lines[0]).toBe('map,column,row,heading,value');
		const value = (i: number, j: number) => {
			const c = map.cells[j * 160 + i];
			return c >= 0 ? map.objects[c] : ['(none)', '(tie)', '(off)', '(out)'][-1 - c];
		};
		for (const [i, j] of [
			[0, 0],
			[82, 42],
			[119, 31],
		] as const)
			expect(lines[1 + j * 160 + i]).toBe(`pile-map,${i},${j},,${value(i, j)}`);
	});

	it('draws a picture that can be read back: its cells, and below them a legend with names', async () => {
		const png = file('pile.png');
		expect((await frelk(['map', desk, '--map', 'pile-map', '--png', png])).code).toBe(0);
		const { width, height, data } = PNG.sync.read(readFileSync(png));
		// Sixteen objects and the tie, and three that are met and never selected, a line each.
		expect([width, height]).toEqual([640, 360 + 16 + 20 * 16]);
		const at = (x: number, y: number) => [...data.subarray(4 * (y * width + x), 4 * (y * width + x) + 3)];
		expect(at(1, 1)).toEqual([238, 242, 243]);
		// Over the coin tray and over a coin in it: two tones.
		expect(at(4 * 110, 4 * 40)).not.toEqual(at(1, 1));
		expect(at(4 * 110, 4 * 40)).not.toEqual(at(4 * 121, 4 * 27));
		// In each line a box in the tone of its object, and letters on white.
		const inLine = (line: number, from: number, to: number) => {
			const tones = new Set<string>();
			for (let y = 360 + 8 + 16 * line; y < 360 + 18 + 16 * line; y++)
				for (let x = from; x < to; x++) tones.add(at(x, y).join());
			return tones;
		};
		const opener = at(4 * 35 + 1, 4 * 61 + 1).join();
		expect(inLine(0, 1, 12)).toContain(opener);
		for (let line = 0; line < 17; line++) {
			expect(inLine(line, 18, 60)).toContain('255,255,255');
			expect(inLine(line, 18, 60).size, `letters in line ${line}`).toBeGreaterThan(10);
			expect(inLine(line, 600, 640)).toEqual(new Set(['255,255,255']));
		}
	});

	it('is the same by one worker and by several, and as a picture with names', async () => {
		const svg = file('reach.svg');
		const one = await frelk(['map', quay, '--json', '--workers', '1']);
		const two = await asProcess(['map', quay, '--json', '--workers', '2']);
		expect([two.code, two.err, two.out]).toEqual([0, '', one.out]);
		expect((await frelk(['map', quay, '--map', 'reach-map', '--svg', svg])).code).toBe(0);
		expect(readFileSync(svg, 'utf8')).toContain('>Bow crank</text>');
		for (const n of ['0', '1.5', 'many', '65'])
			expect((await frelk(['map', quay, '--workers', n])).err).toContain('whole number from 1 to 64');
		expect((await frelk(['map', quay, '--svg', svg])).err).toContain('--svg draws one map');
	});

	it('says each map in words, and what is never selected with the commonest reason', async () => {
		const { out } = await frelk(['map', quay, '--map', 'gaze-map']);
		expect(out).toMatch(/^gaze-map: aim map of gaze, 61 × 31\n/);
		expect(out).toMatch(/never {2}crate-4: mostly touch, at least by [\d.]+/);
		expect(await frelk(['map', quay, '--map', 'pick'])).toMatchObject({
			code: 2,
			err: expect.stringContaining('no map "pick"'),
		});
		expect((await frelk(['map', quay, '--png', file('x.png')])).err).toContain('--png draws one map');
		const { maps: _, checks: __, ...rest } = JSON.parse(readFileSync(quay, 'utf8'));
		expect((await frelk(['map', file('none.json', JSON.stringify(rest))])).out).toBe('harl-quay has no maps\n');
	});

	it('is held to its checks by frelk check, in every report', async () => {
		const project = JSON.parse(readFileSync(desk, 'utf8'));
		project.checks = [
			{ id: 'tray-wide', map: 'pile-map', expect: { object: 'coin-tray', circle: { min: 24 } } },
			{
				id: 'opener-wide',
				name: 'The opener can be hit',
				map: 'pile-map',
				expect: { object: 'letter-opener', circle: { min: 24 } },
			},
			{ id: 'desk-never', map: 'pile-map', expect: { never: ['desk-top'] } },
		];
		const path = file('desk.json', JSON.stringify(project));
		const [junit, csv, md, html] = ['j.xml', 'c.csv', 'm.md', 'h.html'].map((name) => file(name)) as [
			string,
			string,
			string,
			string,
		];
		const { code, out } = await frelk([
			'check',
			path,
			'--junit',
			junit,
			'--csv',
			csv,
			'--markdown',
			md,
			'--html',
			html,
		]);
		expect(code).toBe(1);
		expect(out.split('\n')).toEqual([
			'holds  pursers-desk  pile-map  tray-wide',
			'fails  pursers-desk  pile-map  opener-wide: wanted letter-opener at least 24 px wide, got 10.97 px',
			'holds  pursers-desk  pile-map  desk-never',
			'2 hold, 1 fail',
			'',
		]);
		for (const report of [junit, csv, md, html])
			expect(readFileSync(report, 'utf8'), report).toContain('at least 24 px wide');
		const json = JSON.parse((await frelk(['check', path, '--json', '--only', 'opener-wide'])).out);
		expect(json.projects[0].checks).toEqual([
			{
				id: 'opener-wide',
				map: 'pile-map',
				moment: null,
				pass: false,
				wanted: { object: 'letter-opener', circle: { min: 24 } },
				got: expect.closeTo(10.97, 2),
				reason: expect.any(String),
			},
		]);
		expect((await frelk(['check', path, '--update'])).out).toContain('stays  pursers-desk  opener-wide');
	});
});
