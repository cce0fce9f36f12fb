/**
 * Which projects are being opened: a tab that dies while it opens one leaves its mark behind, so that the next start can offer a way
 * round. A mark belongs to a tab; whether that tab still lives is told by a lock that ends with it.
 */
import { dropLocal, readLocal, writeLocal } from '../../data/local';
import { TAB } from '../../data/tabs';

const PREFIX = 'frelk-opening';
/** A younger mark may be of a tab that has asked for its lock and not been given it yet, milliseconds. */
const YOUNG = 3000;
/** Without locks, a mark this old is a dead tab's, milliseconds. */
const LONG = 15_000;

interface Mark {
	key: string;
	tab: string;
	at: number;
}

function marks(): Mark[] {
	try {
		const list: unknown = JSON.parse(readLocal(PREFIX) ?? '[]');
		return Array.isArray(list)
			? list.filter(
					(m): m is Mark => typeof m?.key === 'string' && typeof m.tab === 'string' && typeof m.at === 'number',
				)
			: [];
	} catch {
		return [];
	}
}

function keep(list: readonly Mark[]): void {
	if (list.length === 0) dropLocal(PREFIX);
	else writeLocal(PREFIX, JSON.stringify(list));
}

let release: (() => void) | null = null;

/** Who leaves the page, or loads it anew, has not died of it. */
const forget = () => keep(marks().filter((m) => m.tab !== TAB));

/** Marks a project as being opened by this tab. */
export function markOpening(key: string): void {
	keep([...marks().filter((m) => m.key !== key && m.tab !== TAB), { key, tab: TAB, at: Date.now() }]);
	globalThis.addEventListener?.('pagehide', forget);
	if (release || typeof navigator === 'undefined' || !navigator.locks) return;
	void navigator.locks.request(
		`${PREFIX} ${TAB}`,
		() =>
			new Promise<void>((done) => {
				release = done;
			}),
	);
}

/** It is open, or given up: nothing to tell of. */
export function clearOpening(key: string): void {
	keep(marks().filter((m) => m.key !== key));
	release?.();
	release = null;
}

/** Keys of projects during whose opening a tab died. */
export async function diedOpening(): Promise<Set<string>> {
	const list = marks().filter((m) => m.tab !== TAB);
	if (list.length === 0) return new Set();
	const held = navigator.locks ? new Set((await navigator.locks.query()).held?.map((lock) => lock.name)) : null;
	const age = (m: Mark) => Date.now() - m.at;
	return new Set(
		list.filter((m) => (held ? age(m) > YOUNG && !held.has(`${PREFIX} ${m.tab}`) : age(m) > LONG)).map((m) => m.key),
	);
}
