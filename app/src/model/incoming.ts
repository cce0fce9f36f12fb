/** Files of a level on their way from where they were dropped to the page that shows it. */

const waiting = new Map<string, File[]>();
const heard = new Set<() => void>();

/** @param key of the project they are for */
export function bringLevel(key: string, files: File[]): void {
	waiting.set(key, files);
	for (const tell of heard) tell();
}

/** @returns the files last brought; the very same list until others come */
export const levelFor = (key: string): File[] | null => waiting.get(key) ?? null;

export function onLevel(tell: () => void): () => void {
	heard.add(tell);
	return () => heard.delete(tell);
}
