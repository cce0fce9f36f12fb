/** What a change does: edits in words, alike ones together; answers, checks, runs and maps that are other ones, and why. */
import { describe, expect, it } from 'vitest';
import { mergeProjects } from '../project/merge';
import type { Project } from '../project/schema';
import { htmlDifference, markdownDifference } from '../report/difference';
import { example } from '../tests/examples';
import { randomProject } from '../tests/project';
import { answersDiffer, differenceOf } from './diff';
import { editsBetween } from './edits';
import { differenceInShort, differenceText, toldDifference, wordsOfClash } from './words';

const box = (id: string, z: number, more: object = {}) => ({
	id,
	name: id[0]?.toUpperCase() + id.slice(1),
	layer: 'things',
	position: [0, 0, z],
	shapes: [{ id: 's', kind: 'box', size: [1, 1, 1] }],
	...more,
});
/** Two boxes, one behind the other, and who looks at them. */
const scene = (): Project =>
	({
		format: 'frelk/1',
		id: 'p',
		name: 'P',
		scene: {
			kind: 'space',
			layers: [{ id: 'things', name: 'Things' }, { id: 'walls' }],
			tags: [{ id: 'wet', name: 'Wet' }, { id: 'dry' }],
			objects: [box('near', -2), box('far', -6), box('aside', -4, { position: [9, 0, -4] })],
			cameras: [],
		},
		queries: [
			{ id: 'gaze', name: 'Gaze', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 10 },
			{ id: 'reach', kind: 'overlap', at: { point: [9, 0, -3] }, shape: { kind: 'sphere', radius: 1 } },
		],
		moments: [{ id: 'open', name: 'Open', objects: { near: { active: false } } }],
		checks: [
			{ id: 'c', name: 'Near first', query: 'gaze', expect: { selects: ['near'] } },
			{ id: 'd', query: 'gaze', moment: 'open', expect: { selects: ['near'] } },
		],
	}) as unknown as Project;
// biome-ignore lint/suspicious/noExplicitAny: a project that is changed by hand
const edited = (recipe: (p: any) => void): Project => {
	const p = structuredClone(scene());
	recipe(p);
	return p;
};
const told = (after: Project, before = scene()) =>
	toldDifference(before, after, differenceOf(before, after, { findings: false }));
const find = (p: Project, id: string) => p.scene.objects.find((o) => o.id === id) as unknown as Record<string, unknown>;

describe('edits in words', () => {
	it.each([
		['moved along an axis', (p) => (find(p, 'near').position = [0.4, 0, -2]), ['Near moved 0.4 m +X']],
		['moved across', (p) => (find(p, 'near').position = [1, -1, -2]), ['Near moved by (1, -1, 0) m']],
		[
			'several alike are one',
			(p) => {
				for (const o of p.scene.objects) o.position[2] -= 1;
			},
			['Near, Far, Aside moved 1 m −Z'],
		],
		['a figure with its unit', (p) => (p.queries[0].length = 2.5), ['Gaze: length 10 m → 2.5 m']],
		['an angle', (p) => (p.queries[0].view = { within: 30 }), ['Gaze: view added']],
		[
			'a tag of several',
			(p) => {
				for (const o of p.scene.objects) o.tags = ['wet'];
			},
			['tag Wet added to Near, Far, Aside'],
		],
		['a layer of a filter', (p) => (p.queries[0].selects = { layers: ['walls'] }), ['Gaze: selects added']],
		['a state', (p) => (find(p, 'far').states = { open: true }), ['Far: states added']],
		['at a moment', (p) => (p.moments[0].objects.near.active = true), ['at Open: Near: active no → yes']],
		[
			'placed by a moment',
			(p) => (p.moments[0].objects.far = { position: [0, 0, -1] }),
			['moment Open: objects far added'],
		],
		['new and gone', (p) => p.scene.objects.splice(2, 1, box('crate', -9)), ['Aside removed', 'Crate added']],
		['another id', (p) => (p.scene.objects[2].id = 'beside'), ['Aside: id aside → beside']],
		['another order', (p) => p.scene.objects.reverse(), ['objects put in another order']],
		['of the project', (p) => (p.name = 'Q'), ['project: name P → Q']],
		[
			'a size',
			(p) => (p.scene.objects[0].shapes[0].size = [1, 2, 1]),
			['Near: shapes s size (1, 1, 1) m → (1, 2, 1) m'],
		],
		[
			'a list that is begun',
			(p) => (p.maps = [{ id: 'm', query: 'gaze', kind: 'aim', yaw: [0, 9], pitch: [0, 9], every: 9 }]),
			['map m added'],
		],
		// biome-ignore lint/suspicious/noExplicitAny: as above
	] satisfies [string, (p: any) => unknown, string[]][])('%s', (_name, recipe, words) => {
		expect(told(edited(recipe)).edits).toEqual(words);
	});

	it('of more than three things count them', () => {
		const many = edited((p) => {
			for (let i = 0; i < 200; i++) p.scene.objects.push(box(`crate-${i}`, -20 - i));
		});
		const moved = structuredClone(many);
		for (const o of moved.scene.objects.slice(3)) o.position = [0.5, 0, o.position?.[2] ?? 0];
		expect(told(moved, many).edits).toEqual(['200 objects moved 0.5 m +X']);
		expect(editsBetween(many, moved)[0]?.ids).toHaveLength(200);
	});
});

describe('large projects', () => {
	const many = (prefix: string) =>
		edited((p) => {
			for (let i = 0; i < 3000; i++) p.scene.objects.push(box(`${prefix}-${i}`, -20 - i));
		});

	it('are gone through in one go: every object moved is one line, and ids given anew to all are told as gone and new', () => {
		const before = many('crate');
		const moved = structuredClone(before);
		for (const o of moved.scene.objects) o.position = [(o.position?.[0] ?? 0) + 1, 0, o.position?.[2] ?? 0];
		expect(told(moved, before).edits).toEqual(['3003 objects moved 1 m +X']);
		const edits = editsBetween(before, many('box'));
		expect(edits.map((e) => [e.deed.did, e.ids.length])).toEqual([
			['removed', 3000],
			['added', 3000],
		]);
	});
});

describe('answers that are other ones', () => {
	it('say what they were, what they are, and why what was selected lost; alike ones together', () => {
		const d = told(edited((p) => (find(p, 'far').position = [0, 0, -0.8])));
		expect(d.answers).toEqual([
			{
				at: { query: 'gaze', moment: null },
				query: 'Gaze',
				moment: 'as laid out',
				before: 'Near',
				after: 'Far',
				why: 'Near: outranked, 1.2 m farther than Far',
			},
		]);
		expect(d.breaks).toEqual(['Near first']);
		// At the moment Near is not there: Far is selected as before.
		expect(d.fixes).toEqual([]);
		const gone = told(edited((p) => (p.queries[0].length = 1)));
		expect(gone.answers.map((a) => [a.moment, a.before, a.after])).toEqual([
			['as laid out', 'Near', 'nothing'],
			['Open', 'Far', 'nothing'],
		]);
		const both = told(edited((p) => (p.queries[1].shape.radius = 0.1)));
		expect(both.answers).toMatchObject([
			{ query: 'reach', moment: 'as laid out, Open', before: 'Aside', after: 'nothing' },
		]);
		expect(both.answersInAll).toBe(2);
		expect(differenceInShort(both)).toBe('1 edit; 2 answers change');
	});

	it('are none where only the words, an id or the order changed', () => {
		for (const recipe of [
			(p: Project) => void (p.name = 'Q'),
			(p: Project) => void ((p.scene.objects[2] as { id: string }).id = 'beside'),
			(p: Project) => void (p.scene.objects[0] as { name: string }).name.at(0),
		]) {
			const after = edited(recipe);
			const d = differenceOf(scene(), after, { findings: false });
			expect([d.answers, d.checks, answersDiffer(d)]).toEqual([[], [], false]);
		}
	});

	it('are asked only where the edit reaches: with nothing edited nothing differs', () => {
		for (let seed = 0; seed < 20; seed++) {
			const p = randomProject(seed);
			const d = differenceOf(p, structuredClone(p));
			expect(d).toEqual({ edits: [], answers: [], checks: [], runs: [], maps: [], findings: { came: [], went: [] } });
		}
		expect(differenceInShort(told(scene()))).toBe('nothing differs');
	});

	it('tell checks that turn, came and went', () => {
		const d = told(
			edited((p) => {
				p.moments[0].objects.near.active = true;
				p.checks.push({ id: 'e', query: 'reach', expect: { none: true } });
				p.checks.shift();
			}),
		);
		expect([d.breaks, d.fixes, d.otherChecks]).toEqual([
			[],
			['d'],
			['e is new, and fails', 'Near first is gone; it held'],
		]);
	});
});

describe('the quay, before the fix and after it', () => {
	const [before, after] = [example('harl-quay-before'), example('harl-quay')];
	const difference = differenceOf(before, after);
	const words = toldDifference(before, after, difference);

	it('has its crate moved, what it hid selected, and its checks mended', () => {
		expect(words.edits).toContain('Lemon crate 4 moved by (4.75, -0.85, 0) m');
		expect(words.answers[0]).toMatchObject({
			query: 'Gaze',
			before: 'Lemon crate 4 (lift)',
			after: 'Gangway crank (turn)',
		});
		expect(words.fixes).toEqual(['gaze', 'in-sight']);
		expect(words.runs).toEqual([
			'Walk past cranks and cleats, from 0.000 s on: reach: Lemon crate 4 is touched → reach: Port cleat contends',
		]);
		expect(differenceText(words)).toContain('\nFixes\n  gaze\n  in-sight\n');
	});

	it('tells shares of maps that changed, and findings that came and went', () => {
		const narrow = structuredClone(after);
		const pick = narrow.queries.find((q) => q.id === 'harbour-pick') as { range?: object };
		pick.range = { max: 6 };
		const d = toldDifference(after, narrow, differenceOf(after, narrow));
		expect(d.maps[0]).toMatch(/^Harbour pick, whole screen: \d+ of \d+ answers differ; .* → nothing in \d+;.* % → /);
		const plain = differenceOf(after, narrow, { maps: false });
		expect([plain.maps, plain.findings !== null]).toEqual([[], true]);
	});

	it('is a table and folded lists for a pull request, in which nothing of a name is markup', () => {
		const text = markdownDifference('A | b', words);
		expect(text.split('\n')[0]).toBe('## A \\| b: 16 edits; 14 answers change; fixes 2 checks; 1 run goes otherwise');
		expect(text).toContain(
			'| Gaze | as laid out, The left-over box is cleared, The booth is shut | Lemon crate 4 (lift) |',
		);
		expect(text).toContain('<details><summary>Edits: 16</summary>');
		const broken = edited((p) => {
			p.queries[0].length = 1;
			p.queries[0].name = '<img src=x> @all';
		});
		expect(markdownDifference('x', told(broken))).toContain('<details open><summary>Breaks: 1</summary>');
		expect(markdownDifference('x', told(broken))).not.toMatch(/<img|@all/);
	});

	it('is a page with a picture before and after of each', () => {
		const page = htmlDifference(before, after, difference, words);
		expect(page.match(/<h3>Before: /g)).toHaveLength(difference.answers.length);
		expect(page.match(/<h3>After: /g)).toHaveLength(difference.answers.length);
		expect(page.match(/<svg/g)?.length).toBeGreaterThan(difference.answers.length);
		expect(page).toContain('<h2>Edits</h2>');
	});
});

it('a clash of two edits is told with both values', () => {
	const base = scene();
	const mine = edited((p) => (p.queries[0].length = 4));
	const theirs = edited((p) => (p.queries[0].length = 6));
	const { clashes } = mergeProjects(base, mine, theirs);
	expect(clashes.map((clash) => wordsOfClash(clash, theirs))).toEqual(['Gaze: length 4 m here, 6 m there']);
	const without = edited((p) => p.scene.objects.splice(2, 1));
	const moved = edited((p) => (p.scene.objects[2].position = [1, 0, 0]));
	const gone = mergeProjects(base, without, moved).clashes;
	expect(gone.map((clash) => wordsOfClash(clash, moved))).toEqual(['Aside: position removed here, (1, 0, 0) m there']);
});
