/** What lies in the browser's store, past the application. */
import type { Page } from '@playwright/test';
import { slowProject } from './slow-project';

/** Puts rows into the tables of the store. */
export const put = (page: Page, rows: Record<string, object[]>): Promise<void> =>
	page.evaluate(
		(rows) =>
			new Promise<void>((resolve, reject) => {
				const open = indexedDB.open('frelk');
				open.onerror = () => reject(open.error);
				open.onsuccess = () => {
					const t = open.result.transaction(Object.keys(rows), 'readwrite');
					for (const [table, list] of Object.entries(rows)) for (const row of list) t.objectStore(table).put(row);
					t.oncomplete = () => {
						open.result.close();
						resolve();
					};
					t.onerror = () => reject(t.error);
				};
			}),
		rows,
	);

/** One that takes some twenty seconds to open. */
export const putSlow = (page: Page): Promise<void> =>
	put(page, {
		projects: [{ key: 'slow', name: 'Slow', changed: Date.now(), version: 1 }],
		texts: [{ key: 'slow', text: slowProject(75) }],
	});

/** The text of a project as it lies in the store; empty where it does not. */
export const storedText = (page: Page, key: string): Promise<string> =>
	page.evaluate(
		(key) =>
			new Promise<string>((resolve, reject) => {
				const open = indexedDB.open('frelk');
				open.onerror = () => reject(open.error);
				open.onsuccess = () => {
					const asked = open.result.transaction('texts').objectStore('texts').get(key);
					asked.onsuccess = () => {
						open.result.close();
						resolve((asked.result as { text: string } | undefined)?.text ?? '');
					};
					asked.onerror = () => reject(asked.error);
				};
			}),
		key,
	);

/** The project as it lies in the store; null where it does not. */
export const stored = async (
	page: Page,
	key: string,
): Promise<{ queries: { id: string; length?: number }[] } | null> => {
	const text = await storedText(page, key);
	return text === '' ? null : JSON.parse(text);
};
