/** The differences a moment makes, in words. */

import type { Project } from '@frelk/core';
import { rounded } from '@frelk/core';
import type { Difference } from '@frelk/core/editing';
import { nameOf } from '../../model/names';

const trim = (v: number): string => String(rounded(v, 3));

function valueWords(project: Project, field: string, value: unknown): string {
	if (value === null || value === undefined) return 'none';
	if (value === true) return 'yes';
	if (value === false) return 'no';
	if (typeof value === 'number') return trim(value);
	if (Array.isArray(value))
		return value.length === 0
			? 'none'
			: typeof value[0] === 'number'
				? `(${value.map((v) => trim(v)).join(', ')})`
				: value.join(', ');
	if (field === 'parent') return nameOf(project, 'object', String(value));
	if (field === 'layer') return nameOf(project, 'layer', String(value));
	if (field === 'side') return nameOf(project, 'side', String(value));
	return String(value);
}

const FIELD_WORDS: Record<string, string> = { position: 'place', rotation: 'turn', parent: 'hangs on' };

/** `Gangway crank: jammed, no → yes`. */
export function wordsOfDifference(project: Project, d: Difference): string {
	const what = d.of === 'scene' ? 'Scene' : nameOf(project, d.of, d.id);
	const field =
		d.field === 'states' ? (d.key ?? '') : d.field === 'shapes' ? `shape ${d.key}` : (FIELD_WORDS[d.field] ?? d.field);
	return `${what}: ${field}, ${valueWords(project, d.field, d.from)} → ${valueWords(project, d.field, d.to)}`;
}
