/** Drawings as others make them, held against the browser's own answer to what lies under a point. */
import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { Answerer, buildWorld, checkProject, type Project, type QueryOf } from '@frelk/core';
import { levelInto } from '@frelk/interchange';
import { readSvg } from '@frelk/interchange/svg';
import { expect, test } from './test';

const packages = createRequire(join(import.meta.dirname, '../interchange/package.json'));
const folderOf = (name: string) => dirname(packages.resolve(`${name}/package.json`));

/** So many drawings of a folder, here and there. */
function some(folder: string, count: number): string[] {
	const files = readdirSync(folder)
		.filter((name) => name.endsWith('.svg'))
		.sort();
	return Array.from({ length: count }, (_, i) => join(folder, files[Math.floor((i * files.length) / count)] as string));
}

const POINTS = 100;

test('a hundred icons and flags select what the browser finds under the pointer', async ({ page }) => {
	test.setTimeout(180_000);
	await page.goto('/guide');
	const files = [
		...some(join(folderOf('flag-icons'), 'flags/4x3'), 40),
		...some(join(folderOf('lucide-static'), 'icons'), 30),
		...some(join(folderOf('bootstrap-icons'), 'icons'), 30),
	];
	let hits = 0;
	for (const file of files) {
		const drawn = await page.evaluate(
			([text, count]) => {
				const root = new DOMParser().parseFromString(text, 'image/svg+xml').documentElement as unknown as SVGSVGElement;
				// Each figure by a name of its own, for the browser and for us.
				let n = 0;
				for (const element of root.querySelectorAll('*')) if (!element.id) element.id = `figure-${n++}`;
				const length = (key: string) => Number.parseFloat(root.getAttribute(key) ?? '0');
				const box = root.getAttribute('viewBox') ?? `0 0 ${length('width')} ${length('height')}`;
				const [, , width = 1, height = 1] = box
					.trim()
					.split(/[\s,]+/)
					.map(Number);
				const scale = 480 / Math.max(width, height);
				const [w, h] = [width * scale, height * scale];
				const marked = new XMLSerializer().serializeToString(root);
				const shown = document.importNode(root, true);
				for (const [key, value] of Object.entries({ viewBox: box, width: String(w), height: String(h) }))
					shown.setAttribute(key, value);
				document.body.replaceChildren(shown);
				document.body.style.margin = '0';
				shown.style.cssText += 'position: fixed; left: 0; top: 0';
				let state = 5;
				const random = () => {
					state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
					return state / 2 ** 32;
				};
				const points = Array.from({ length: count }, (): [number, number, string | null] => {
					const [x, y] = [Math.floor(random() * w), Math.floor(random() * h)];
					const found = document.elementFromPoint(x, y);
					return [x, y, found && found !== shown && shown.contains(found) ? found.id : null];
				});
				return { marked, points, viewport: [w, h] as [number, number] };
			},
			[readFileSync(file, 'utf8'), POINTS] as const,
		);
		const { project } = levelInto(readSvg(drawn.marked, 'd.svg'), {}, null, 'd.svg');
		const query = { id: 'q', kind: 'pick', camera: 'above', viewport: drawn.viewport } as QueryOf<'pick'>;
		const asked: Project = { ...project, queries: [query] };
		expect(checkProject(JSON.parse(JSON.stringify(asked))).ok, file).toBe(true);
		const answerer = new Answerer(buildWorld(asked));
		const byId = new Map(project.scene.objects.map((o) => [o.id, o]));
		let other = 0;
		for (const [x, y, wanted] of drawn.points) {
			const [got] = answerer.winner({ ...query, cursor: [x, y] }).selected;
			const extras = got && (byId.get(got.object)?.extras as { import: { node: string } });
			const parts = extras?.import.node.split('/').map((part) => part.replace(/#\d+$/, '')) ?? [];
			if (wanted === null ? parts.length > 0 : !parts.includes(wanted)) other++;
			if (wanted !== null) hits++;
		}
		expect(other, `${file}: of ${POINTS} points`).toBeLessThanOrEqual(1);
	}
	expect(hits).toBeGreaterThan(3000);
});
