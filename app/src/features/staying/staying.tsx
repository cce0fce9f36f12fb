/** Keeps the application in the browser, asks that what lies there is not thrown away, and offers a new version when one has come. */
import { useEffect, useRef, useState } from 'react';
import { Workbox } from 'workbox-window';
import { Button } from '../../ui/controls';
import { tellOffline } from './offline';

/** After the page has settled: what is fetched to be kept is no matter of the first seconds. */
const SETTLED = 4000;
/** A page that stays open asks now and then whether there is a new version, milliseconds. */
const ASKED_EVERY = 30 * 60_000;

export default function Staying() {
	const [waiting, setWaiting] = useState(false);
	const box = useRef<Workbox | null>(null);
	useEffect(() => {
		if (!import.meta.env.PROD || !('serviceWorker' in navigator)) return;
		let again: ReturnType<typeof setInterval> | undefined;
		const timer = setTimeout(() => {
			const made = new Workbox('/sw.js');
			box.current = made;
			made.addEventListener('waiting', () => setWaiting(true));
			made
				.register()
				// Kept whole, or what was thrown away of it is fetched again.
				.then(() => made.active)
				.then(() => made.messageSW({ do: 'fill' }))
				.then((whole) => tellOffline(whole === true))
				.catch((error) => console.error('the application could not be kept for later', error));
			again = setInterval(() => void made.update().catch(() => {}), ASKED_EVERY);
			// Browsers throw away what they hold for pages that never asked.
			void navigator.storage?.persist?.().catch(() => false);
		}, SETTLED);
		return () => {
			clearTimeout(timer);
			clearInterval(again);
		};
	}, []);
	if (!waiting) return null;
	return (
		<div
			role="status"
			className="fixed right-4 bottom-4 z-50 flex items-center gap-3 rounded-[4px] border bg-panel p-3 shadow-lg"
		>
			<p>A new version of Frelk is here. It is taken when you say so.</p>
			<Button
				className="font-semibold"
				onClick={() => {
					box.current?.addEventListener('controlling', () => window.location.reload());
					navigator.serviceWorker.getRegistration().then((found) => found?.waiting?.postMessage('take over'));
				}}
			>
				Take it now
			</Button>
			<Button quiet onClick={() => setWaiting(false)}>
				Later
			</Button>
		</div>
	);
}
