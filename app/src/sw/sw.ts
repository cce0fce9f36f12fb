/**
 * The service worker: the application, its examples and guide lie in the browser, so that it opens with the server gone. A new version
 * waits until it is asked for. Projects are not its matter: they are in the browser's own store.
 */
import { cacheNames } from 'workbox-core';
import {
	cleanupOutdatedCaches,
	createHandlerBoundToURL,
	getCacheKeyForURL,
	matchPrecache,
	precacheAndRoute,
} from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';

interface Asked {
	data: unknown;
	ports: readonly MessagePort[];
	waitUntil: (done: Promise<unknown>) => void;
}

/** Written by the build: all files with their revisions, the page among them. */
declare const FILES: { url: string; revision: string | null }[];
/** The addresses the page answers: `/p/:project/checks`. */
declare const PAGES: string[];
declare const self: {
	addEventListener: (type: 'message', listener: (event: Asked) => void) => void;
	skipWaiting: () => Promise<void>;
	registration: ServiceWorkerRegistration;
};

cleanupOutdatedCaches();
precacheAndRoute(FILES, { cleanURLs: false, directoryIndex: '' });

const answered = (page: string) => new RegExp(`^${page.replace(/:\w+/g, '[^/]+').replace(/\/$/, '')}/?(\\?.*)?$`);
registerRoute(new NavigationRoute(createHandlerBoundToURL('/'), { allowlist: PAGES.map(answered) }));

/**
 * Browsers throw away what lies here when they need room, and keep the worker: what is gone is fetched again.
 * @returns whether all is there
 */
async function fill(): Promise<boolean> {
	const there = await Promise.all(FILES.map(({ url }) => matchPrecache(url)));
	const gone = FILES.filter((_, i) => !there[i]);
	if (gone.length === 0) return true;
	await self.registration.update();
	// A newer version is on its way: the files of this one are no longer those of the server, and the new one brings all of its own.
	if (self.registration.installing || self.registration.waiting) return false;
	const cache = await caches.open(cacheNames.precache);
	for (const { url } of gone) {
		const response = await fetch(new Request(url, { cache: 'reload', credentials: 'same-origin' }));
		if (!response.ok) return false;
		await cache.put(getCacheKeyForURL(url) ?? url, response);
	}
	return true;
}

self.addEventListener('message', (event) => {
	if (event.data === 'take over') void self.skipWaiting();
	if ((event.data as { do?: unknown } | null)?.do === 'fill')
		event.waitUntil(
			fill().then(
				(whole) => event.ports[0]?.postMessage(whole),
				// Without a network nothing can be fetched; it is asked again when the page is opened again.
				() => event.ports[0]?.postMessage(false),
			),
		);
});
