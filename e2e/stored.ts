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
