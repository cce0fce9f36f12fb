/** A project handed to workers without a copy each. */
import type { Project } from '@frelk/core';

/** @returns its text, where all workers can read it */
export const shared = (project: Project): SharedArrayBuffer => sharedText(JSON.stringify(project));

/** @returns a text where all workers can read it, as UTF-8 */
export function sharedText(text: string): SharedArrayBuffer {
	const bytes = new TextEncoder().encode(text);
	const buffer = new SharedArrayBuffer(bytes.length);
	new Uint8Array(buffer).set(bytes);
	return buffer;
}

/** @returns the project of a shared text */
export const unshared = (text: SharedArrayBuffer): Project =>
	JSON.parse(new TextDecoder().decode(new Uint8Array(text).slice()));
