/**
 * The service worker: the application, its examples and guide lie in the browser, so that it opens with the server gone. A new version
 * waits until it is asked for. Projects are not its matter: they are in the browser's own store.
 */
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';

/** Written by the build: all files with their revisions, and the page of each kind of address. */
declare const FILES: { url: string; revision: string | null }[];
declare const self: {
	addEventListener: (type: 'message', listener: (event: { data: unknown }) => void) => void;
	skipWaiting: () => Promise<void>;
};

cleanupOutdatedCaches();
precacheAndRoute(FILES, { cleanURLs: false, directoryIndex: '' });

/** Which page answers an address: all projects share theirs, since a project is read in the browser. */
const SHELLS: [RegExp, string][] = [
	[/^\/$/, '/'],
	[/^\/guide\/?$/, '/guide'],
	[/^\/p\/[^/]+\/?$/, '/p/_'],
	[/^\/p\/[^/]+\/checks\/?$/, '/p/_/checks'],
	[/^\/p\/[^/]+\/filters\/?$/, '/p/_/filters'],
	[/^\/p\/[^/]+\/time\/?$/, '/p/_/time'],
	[/^\/p\/[^/]+\/level\/?$/, '/p/_/level'],
];
for (const [allow, page] of SHELLS)
	registerRoute(
		new NavigationRoute(createHandlerBoundToURL(page), {
			allowlist: [new RegExp(`${allow.source.replace(/\$$/, '')}(\\?.*)?$`)],
		}),
	);

self.addEventListener('message', ({ data }) => {
	if (data === 'take over') void self.skipWaiting();
});
