/**
 * A link to what one looks at, with the project in it: behind the `#`, which no server is told. Whoever opens it is shown what it is, and
 * takes a copy.
 */
import { formatProblem, type Project, readProject } from '@frelk/core';
import * as z from 'zod';
import { textOf } from '../../data/text';

/** What one looks at. */
const placeSchema = z.object({
	view: z.enum(['bench', 'checks', 'filters', 'time']).catch('bench'),
	query: z.string().optional().catch(undefined),
	moment: z.string().optional().catch(undefined),
	/** Ids of what is in hand. */
	hand: z.array(z.string()).max(500).optional().catch(undefined),
	pinned: z.string().optional().catch(undefined),
	run: z.string().optional().catch(undefined),
	/** The instant of the run, seconds. */
	at: z.number().optional().catch(undefined),
	/** How the stage is looked at. */
	pose: z
		.object({
			mode: z.enum(['free', 'plan', 'side']),
			target: z.tuple([z.number(), z.number(), z.number()]),
			yaw: z.number(),
			pitch: z.number(),
			distance: z.number().positive(),
		})
		.optional()
		.catch(undefined),
});
export type Place = z.infer<typeof placeSchema>;

/** A project whose text is longer goes as a file. */
export const MAX_LINKED = 200_000;
/** Before the packed project; another form would have another. */
const FORM = '1.';

async function through(
	bytes: Uint8Array<ArrayBuffer>,
	stream: GenericTransformStream,
	most: number,
): Promise<Uint8Array> {
	const reader = new Blob([bytes])
		.stream()
		.pipeThrough(stream as ReadableWritablePair<Uint8Array, never>)
		.getReader();
	const parts: Uint8Array[] = [];
	let length = 0;
	for (;;) {
		const { done, value } = await reader.read();
		if (done) break;
		length += value.length;
		if (length > most) {
			await reader.cancel();
			throw new RangeError('too long');
		}
		parts.push(value);
	}
	const out = new Uint8Array(length);
	let at = 0;
	for (const part of parts) {
		out.set(part, at);
		at += part.length;
	}
	return out;
}

const toText = (bytes: Uint8Array): string => {
	let text = '';
	for (const byte of bytes) text += String.fromCharCode(byte);
	return btoa(text).replaceAll('+', '-').replaceAll('/', '_').replace(/=+$/, '');
};
const toBytes = (text: string): Uint8Array<ArrayBuffer> =>
	Uint8Array.from(atob(text.replaceAll('-', '+').replaceAll('_', '/')), (c) => c.charCodeAt(0));

/**
 * @param origin of the application, `https://host`
 * @returns the link; null where the project is too long for one
 */
export async function linkTo(origin: string, project: Project, place: Place): Promise<string | null> {
	const text = textOf(project);
	if (new TextEncoder().encode(text).length > MAX_LINKED) return null;
	const said = new TextEncoder().encode(JSON.stringify({ place, text }));
	const packed = await through(said, new CompressionStream('deflate-raw'), 2 * MAX_LINKED);
	return `${origin}/link#${FORM}${toText(packed)}`;
}

/** What a link brings. */
export interface Linked {
	project: Project;
	place: Place;
}

/**
 * @param fragment of the address, with its `#`
 * @throws Error with what is wrong, a line each
 */
export async function fromLink(fragment: string): Promise<Linked> {
	const packed = fragment.replace(/^#/, '');
	if (packed === '') throw new Error('The link has no project in it: it was cut off where it was copied.');
	if (!packed.startsWith(FORM)) throw new Error('The link is of another version of Frelk.');
	let said: { place?: unknown; text?: unknown };
	try {
		// Quoted twice a text may be twice as long, and no longer: what unpacks to more was not made here.
		const bytes = await through(
			toBytes(packed.slice(FORM.length)),
			new DecompressionStream('deflate-raw'),
			3 * MAX_LINKED,
		);
		said = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as typeof said;
	} catch {
		throw new Error('The link is damaged: it was cut off or changed where it was copied.');
	}
	const reading = readProject(typeof said?.text === 'string' ? said.text : '');
	if (!reading.ok)
		throw new Error(['What is in the link is no project:', ...reading.problems.map(formatProblem)].join('\n'));
	const place = placeSchema.safeParse(said.place ?? {});
	return { project: reading.project, place: place.success ? place.data : { view: 'bench' } };
}

/** What of a place stands behind the `?` of an address. */
function said({ query, moment, hand, pinned, run, at }: Place): URLSearchParams {
	const search = new URLSearchParams();
	if (query !== undefined) search.set('query', query);
	if (moment !== undefined) search.set('moment', moment);
	if (hand && hand.length > 0) search.set('hand', hand.join(' '));
	if (pinned !== undefined) search.set('pin', pinned);
	if (run !== undefined) search.set('run', run);
	if (at !== undefined) search.set('at', String(at));
	return search;
}

/** The address of a place in an open project: what it says is taken once. */
export const addressOf = (key: string, place: Place): string => at(key, place.view, said(place));

const at = (key: string, view: Place['view'], search: URLSearchParams): string =>
	`/p/${key}${view === 'bench' ? '' : `/${view}`}${search.size === 0 ? '' : `?${search}`}`;

/** The address of a place in a project on disk, by the name of its file under the folder that is served. */
export function fileAddress(name: string, place: Place): string {
	const search = new URLSearchParams({ file: name });
	if (place.view !== 'bench') search.set('view', place.view);
	for (const [key, value] of said(place)) search.set(key, value);
	return `/file?${search}`;
}

/** @returns the file such an address names, and where in its project it leads once its key is known */
export function fromFileAddress(search: URLSearchParams): { name: string; address: (key: string) => string } {
	const rest = new URLSearchParams(search);
	for (const key of ['file', 'view']) rest.delete(key);
	const view = placeSchema.shape.view.safeParse(search.get('view') ?? 'bench');
	return { name: search.get('file') ?? '', address: (key) => at(key, view.success ? view.data : 'bench', rest) };
}
