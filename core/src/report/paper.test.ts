/** What a report on paper says of a failing check. */
import { describe, expect, it } from 'vitest';
import { failureOf, runChecks } from '../checks/check';
import type { Project, Query } from '../project/schema';
import { checkRuns, type RunCheckResult } from '../run/check';
import type { RunResult } from '../run/events';
import { example, objectIn } from '../tests/examples';
import { answerTo, ball, box, object, project } from '../tests/scene';
import { markdownReport } from './files';
import { junitXml } from './junit';
import { htmlReport } from './page';
import { runCase } from './run-lanes';
import { sentenceOf, wordsOfDifference } from './sentence';

const ray: Query = { id: 'gaze', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 9 };

function behindGlass(): Project {
	const p = project(
		[
			{ ...object('crank', [0, 0, -5], [ball(0.3)]), name: 'Bow crank' },
			{ ...object('pane', [0, 0, -2], [box([2, 2, 0.1])], { layer: 'wall' }), name: 'Glass pane' },
			{ ...object('far', [3, 0, -4], [ball(0.3)]), name: 'Far thing' },
		],
		[{ ...ray, name: 'Gaze', selects: { layers: ['a'] }, sight: { blockers: ['wall'] } }],
	);
	p.moments = [{ id: 'shut', name: 'Shut', objects: { crank: { states: { open: false } } } }];
	p.checks = [{ id: 'sees', query: 'gaze', moment: 'shut', expect: { selects: ['crank'] } }];
	return p;
}

describe('a failing check on paper', () => {
	const p = behindGlass();
	const checks = runChecks(p);
	const page = htmlReport(p, checks);

	it('says the verdict of what was wanted first, the sentence, and what the moment changes', () => {
		const [wanted, sentence, moment] = [
			'<h3>Wanted</h3>',
			'find a; stopped by wall',
			'At this moment: Bow crank: open',
		];
		for (const part of [wanted, sentence, moment]) expect(page).toContain(part);
		expect(page).toMatch(/<b>Bow crank<\/b>: sight, [\d.]+ m behind Glass pane/);
		expect(page).toContain('Nearest to it');
		expect(page).toContain('<b>Far thing</b>: missed');
		expect(page).not.toContain('<b>Glass pane</b>: layer');
	});

	it('draws a plan and a section along the ray, with what is in the way and a bar where it is cut', () => {
		expect(page.match(/<svg/g)).toHaveLength(2);
		expect(page).toContain('Section: Z to the right, Y up');
		expect(page).toContain('Glass pane: in the way');
		expect(page).toContain('Bow crank: wanted');
		expect(page.match(/stroke-width="3.5"/g)).toHaveLength(2);
	});

	it('writes no name over another', () => {
		for (const [svg] of page.matchAll(/<svg.*?<\/svg>/g)) {
			const texts = [...svg.matchAll(/<text x="([\d.-]+)" y="([\d.-]+)"[^>]*>([^<]*)</g)].map(([, x, y, text]) => ({
				x: Number(x),
				y: Number(y),
				w: (text as string).length * 6,
			}));
			expect(texts.length).toBeGreaterThan(1);
			for (const [i, a] of texts.entries())
				for (const b of texts.slice(i + 1))
					expect(a.x + a.w < b.x || b.x + b.w < a.x || Math.abs(a.y - b.y) > 11).toBe(true);
		}
	});

	it('tells how long each check took, and all together, where that was measured', () => {
		const seconds = new Map([[checks[0]?.id ?? '', 0.25]]);
		const [timed] = [junitXml([{ project: p.id, of: p, checks, seconds }])];
		expect(timed).toMatch(/<testsuite [^>]* time="0\.250">/);
		expect(timed.match(/<testcase [^>]* time="/g)).toHaveLength(checks.length);
		expect(junitXml([{ project: p.id, of: p, checks }])).not.toContain('time=');
	});

	it('is a list where tables are not shown', () => {
		const text = markdownReport([{ project: p.id, of: p, checks }], true);
		expect(text).not.toContain('|');
		expect(text).toMatch(/^- \*\*sees.*\(Gaze \(gaze\), Shut \(shut\)\): wanted /m);
	});

	it('calls things by name with their ids beside, with one reason each', () => {
		const suite = [{ project: p.id, of: p, checks }];
		const xml = junitXml(suite);
		expect(xml).toContain('wanted Bow crank (crank), got nothing (Bow crank (crank): sight,');
		expect(xml).not.toContain('far');
		const row = markdownReport(suite)
			.split('\n')
			.find((l) => l.startsWith('| sees')) as string;
		for (const part of ['Gaze (gaze)', 'Shut (shut)', 'Bow crank (crank)']) expect(row).toContain(part);
	});
});

describe('lists of several', () => {
	const all = {
		id: 'q',
		kind: 'overlap',
		at: { point: [0, 0, 0] },
		shape: { kind: 'sphere', radius: 9 },
		choose: { take: 'all' },
	};
	const answer = answerTo(
		all,
		['a1', 'a2', 'a3'].map((id, i) => object(id, [0, 0, -1 - i], [ball(0.1)])),
	);

	it('say what is missing, what is too much and what is out of order', () => {
		expect(failureOf({ selects: ['a1', 'a2', 'a3'] }, answer)).toBe('');
		expect(failureOf({ selects: ['a1', 'a2', 'a3', 'b'] }, answer)).toContain('wanted 4, got 3: missing b');
		expect(failureOf({ selects: ['a1'] }, answer)).toContain('wanted 1, got 3: too much: a2, a3');
		expect(failureOf({ selects: ['a1', 'a3', 'a2'] }, answer)).toContain('out of order: place 2 is a2, wanted a3');
		expect(failureOf({ selects: ['a3', 'a1', 'a2'], order: 'any' }, answer)).toBe('');
	});
});

describe('sentences', () => {
	const plain = (_kind: string, id: string) => id;
	const p = project([], []);

	it('say what a query asks', () => {
		const query = {
			...ray,
			selects: {
				layers: ['a'],
				tags: { any: ['x', 'y'], none: ['z'] },
				when: [{ of: 'target', state: 'jammed', is: false }],
			},
			range: { max: 4 },
			sight: { blockers: 'all' },
		} as unknown as Query;
		expect(sentenceOf(query, p, plain)).toBe(
			'From (0, 0, 0) along (0, 0, -1), up to 9 m, find a; tagged any of x, y; not tagged z; where jammed is no; within 4 m; stopped by any layer; of several take the nearest.',
		);
	});

	it('say what the bench says: names, who helps, who asks, who is passed over, and how is chosen', () => {
		const named: Project = {
			...p,
			scene: {
				...p.scene,
				objects: [
					{ id: 'who', name: 'Deckhand', layer: 'a' },
					{ id: 'gull', name: 'Gull', layer: 'a' },
				],
				cameras: [{ id: 'eye', name: 'Harbour eye', position: [0, 0, 0], projection: 'perspective', fov: 60 }],
			},
			queries: [{ ...ray, id: 'gaze', name: 'Gaze' }],
		};
		const naming = (_kind: string, id: string) => named.scene.objects.find((o) => o.id === id)?.name ?? id;
		const said = (query: object) => sentenceOf(query as Query, named, naming);
		expect(
			said({
				id: 'q',
				kind: 'pick',
				camera: 'eye',
				viewport: [100, 80],
				assist: { by: 'angle', within: 8 },
				asker: 'who',
				ignore: ['gull', 'who'],
				selects: { roles: ['solid'], stances: ['hostile'] },
				approach: 'ignore',
				sight: { blockers: ['a'], sensors: true },
			}),
		).toBe(
			'Through Harbour eye at 50, 40 px, find any layer; regarded as hostile; solid alone; helped within 8°; from any side; stopped by a, sensors too; of several take the directly touched, then nearest; asked by Deckhand; passing over Gull and Deckhand.',
		);
		expect(
			said({
				id: 'q',
				kind: 'sweep',
				shape: { kind: 'sphere', radius: 1 },
				from: { hitOf: 'gaze', off: 0.02 },
				aim: { along: [0, 0, -1], of: 'who' },
				range: { min: 1, max: 3, from: { focus: 'who' }, to: 'focus', flat: true },
				view: { within: 30 },
				choose: { take: 2, by: [{ rule: 'priority' }, { rule: 'distance', to: 'focus' }] },
			}),
		).toBe(
			'A shape moved from the hit of Gaze, 0.02 m off the surface straight ahead of Deckhand, up to 1000 m, find any layer; between 1 m and 3 m of the focus of Deckhand, to the focus, level; within 30° of its view; of several take up to 2, higher priority, then nearest by focus.',
		);
		expect(said({ ...ray, range: { min: 2 } })).toContain('; beyond 2 m; ');
		expect(said({ id: 'q', kind: 'hitbox', asker: 'who', boxes: [] })).toBe(
			'In the swing of Deckhand, find any layer; of several take all, nearest first.',
		);
	});

	it('say what a moment changes', () => {
		expect(
			wordsOfDifference({ of: 'object', id: 'crank', field: 'states', key: 'open', from: null, to: true }, plain),
		).toBe('crank: open not set → yes');
		expect(
			wordsOfDifference({ of: 'scene', id: '', field: 'position', key: null, from: [0, 0, 0], to: [1, 0, 2.5] }, plain),
		).toBe('scene: position (0, 0, 0) → (1, 0, 2.5)');
	});
});

it('a name that is cut in a picture is cut before it is written out for markup', () => {
	const long = `${'x'.repeat(27)}&amp`;
	const p = project(
		[{ ...object('a', [0, 0, -3], [ball(1)]), name: long }],
		[{ id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 9 }],
	);
	p.checks = [{ id: 'c', query: 'q', expect: { none: true } }];
	expect(htmlReport(p, runChecks(p))).toContain(`${'x'.repeat(27)}&amp;: got</text>`);
});

describe('a failing run on paper', () => {
	const failing = (name: string, changed: Record<string, object>) => {
		const p = example(name);
		for (const check of p.checks ?? []) Object.assign(check, check.id in changed ? { expect: changed[check.id] } : {});
		const page = htmlReport(p, [], checkRuns(p));
		const cases = [...page.matchAll(/<section>(.*?)<\/section>/g)].map(([, inner]) => inner as string);
		return { page, cases };
	};
	const lanes = (text: string) => [...text.matchAll(/<text x="16"[^>]*>([^<]*)</g)].map(([, name]) => name);
	const boxes = (text: string) =>
		[...text.matchAll(/<rect x="([\d.]+)" y="\d+" width="([\d.]+)" height="(\d+)" fill="([^"]+)"/g)].map(
			([, x, w, h, fill]) => [Number(x), Number(w), Number(h), fill],
		);

	it('has its lane, with the instant at which it first differs and what is held there', () => {
		const { cases } = failing('harl-quay', { 'walk-calm-middle': { at: 2.5, selects: ['cleat-starboard'] } });
		expect(cases).toHaveLength(1);
		const [text = ''] = cases;
		expect(text).toContain('Walk past cranks and cleats · Scene as laid out');
		expect(text).toContain('wanted Starboard cleat at 2.5 s; got Port cleat');
		expect(text).toContain('It first differs at 2.5 s, where Port cleat is held.');
		expect(text).toContain('first differs, 2.5 s');
		// The entry that is checked, and no other of the run.
		expect(text).toContain('>reach-calm<');
		expect(text).not.toContain('>reach<');
		expect(lanes(text)).toEqual(['Port cleat', 'Starboard cleat']);
		// Of 4 s on 530 units from 170 on: chosen up to 3 s, and from then on the other.
		const chosen = boxes(text).filter(([, , , fill]) => fill === '#14242b');
		expect(chosen).toEqual([
			[170, 397.5, 12, '#14242b'],
			[567.5, 132.5, 12, '#14242b'],
		]);
		expect(text).toContain('<path d="M501.3 4V');
	});

	it('tells a tie, nothing held, what was pressed, and what came between two steps', () => {
		const { cases } = failing('harl-quay', {
			'walk-reach-sequence': { sequence: ['cleat-port', 'cleat-starboard'] },
			'slot-any-end': { at: 3, selects: ['cleat-port'] },
			'lift-not-again': { at: 0.6, none: true },
			'gull-unseen': { missed: 0 },
		});
		expect(cases).toHaveLength(4);
		const [tie = '', none = '', lift = '', gull = ''] = cases;
		expect(tie).toContain('where Port cleat and Starboard cleat are tied.');
		expect(boxes(tie).filter(([, , , fill]) => fill === 'url(#tied)')).toHaveLength(4);
		expect(none).toContain('It first differs at 3 s, where nothing is held.');
		expect([...lift.matchAll(/>press</g)]).toHaveLength(2);
		expect(gull).toContain('8 8m0 -8l-8 8');
	});

	it('of a thousand changes is no long drawing', () => {
		const p = example('harl-quay');
		const check = checkRuns(p).find((c) => c.id === 'walk-calm-middle') as RunCheckResult;
		const choose = (k: number) => ({
			kind: 'choose' as const,
			...{ k, t: (4 * k) / 20_000, watch: 'reach-calm', instead: null },
			...{ selected: k % 2 === 0 ? ['cleat-port'] : [], tied: [] },
		});
		const result = {
			...{ run: check.run, steps: 20_000, swings: [], watch: [{ id: 'reach-calm' }] },
			events: Array.from({ length: 20_000 }, (_, k) => choose(k)),
		} as unknown as RunResult;
		const text = runCase(p, { ...check, from: 2 }, new Map([[check.run, result]]), (_, id) => id);
		expect(text.length).toBeLessThan(20_000);
		expect(boxes(text)[0]?.slice(0, 2)).toEqual([170, 533.9]);
	});

	it('of a swing shows what it hit when', () => {
		const { cases } = failing('deck-from-above', { 'swing-hits': { hits: [] } });
		const [text = ''] = cases;
		expect(text).toContain('It first differs at 0.1 s.');
		expect(text).toContain('>swing 1<');
		expect(lanes(text)).toEqual(['Gull by the coil', 'Gull on the planks']);
		expect(boxes(text).map(([x]) => x)).toEqual([258.3, 346.7]);
	});

	it('tells long names apart by their ends', () => {
		const p = example('harl-quay');
		for (const c of p.checks ?? [])
			if (c.id === 'walk-calm-middle') Object.assign(c, { expect: { at: 2.5, none: true } });
		objectIn(p, 'cleat-port').name = 'The mooring cleat of the pilot boat, port';
		objectIn(p, 'cleat-starboard').name = 'The mooring cleat of the pilot boat, starboard';
		const page = htmlReport(p, [], checkRuns(p));
		expect(lanes(page)).toEqual(['The mooring cl…oat, port', 'The mooring cl…starboard']);
	});

	it('of which there is none any more says the reason alone, and names are no markup', () => {
		const p = example('harl-quay');
		for (const c of p.checks ?? [])
			if (c.id === 'walk-calm-middle') Object.assign(c, { expect: { at: 2.5, none: true } });
		const checks = checkRuns(p).filter((c) => !c.pass);
		objectIn(p, 'cleat-port').name = '<b>Port</b>';
		expect(htmlReport(p, [], checks)).toContain('&lt;b&gt;Port&lt;/b&gt;');
		expect(htmlReport(p, [], checks)).not.toContain('<b>Port');
		p.runs = [];
		expect(htmlReport(p, [], checks)).toContain('<p class="why">wanted nothing at 2.5 s; got Port cleat</p></section>');
	});
});
