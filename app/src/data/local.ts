/** Small settings that outlive the page; where the browser keeps none they last as long as the page. */
const inMemory = new Map<string, string>();

export function readLocal(key: string): string | null {
	const here = inMemory.get(key);
	if (here !== undefined) return here;
	try {
		return localStorage.getItem(key);
	} catch {
		return null;
	}
}

/** @returns whether it will still be there after a reload */
export function writeLocal(key: string, value: string): boolean {
	try {
		localStorage.setItem(key, value);
		inMemory.delete(key);
		return true;
	} catch {
		inMemory.set(key, value);
		return false;
	}
}

export function dropLocal(key: string): void {
	inMemory.delete(key);
	try {
		localStorage.removeItem(key);
	} catch {
		// There is none to take it from.
	}
}
