import { readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { meaningOf } from '../../ui/terms';
import * as parts from '../sentence/parts';

it('every word that is explained where it stands is in the guide', () => {
	const files = readdirSync('app/src', { recursive: true, encoding: 'utf8' }).filter((f) => /\.tsx$/.test(f));
	const used = files.flatMap((file) =>
		[...readFileSync(`app/src/${file}`, 'utf8').matchAll(/<Term(?: is="([^"]+)")?>([^<{]+)<\/Term>/g)].map(
			([, is, text]) => is ?? (text as string).trim(),
		),
	);
	expect(used.length).toBeGreaterThan(6);
	const { MEANT } = parts;
	for (const word of [...used, 'Roster', 'moment', ...Object.values(MEANT)])
		expect([word, meaningOf(word)]).toEqual([word, expect.stringMatching(/^.{20,}\.$/)]);
	expect(meaningOf('no such word')).toBeUndefined();
});
