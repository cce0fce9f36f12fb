/** How long a page may take to be gone once it is left, milliseconds: what reloads by itself after that is no longer in the way. */
const GONE_WITHIN = 10_000;

/**
 * A page that is left drops what it was still loading. The router takes a part that did not come for one of an older build and reloads the
 * page, and in some browsers the reload takes the place of where one was going. Nothing reloads by itself while the page is left.
 * @param page the window, or what stands for it
 */
export function goWhereOneWent(page: EventTarget & { navigation?: EventTarget }, now = () => performance.now()): void {
	let left = -Infinity;
	page.addEventListener('beforeunload', () => {
		left = now();
	});
	page.navigation?.addEventListener('navigate', (event) => {
		const { navigationType, userInitiated } = event as NavigateEvent;
		if (navigationType === 'reload' && !userInitiated && now() - left < GONE_WITHIN) event.preventDefault();
	});
}
