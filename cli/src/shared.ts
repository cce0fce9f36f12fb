/** A project handed to workers without a copy each. */
import type { Project } from '@frelk/core';

/** @returns its text, where all workers can read it */
export function shared(project: Project): SharedArrayBuffer {
	const bytes = new TextEncoder().encode(JSON.stringify(project));
	const buffer = new SharedArrayBuffer(bytes.length);
	new Uint8Array(buffer).set(bytes);
	return buffer;
}

/** @returns the project of a shared text */
export const unshared = (text: SharedArrayBuffer): Project =>
	JSON.parse(new TextDecoder().decode(new Uint8Array(text).slice()));
