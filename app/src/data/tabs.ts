/** What the tabs of one browser tell each other. */

/** This tab; a reload is another one. */
export const TAB = Math.random().toString(36).slice(2);

export type News = { key: string; by: string } & ({ version: number } | { gone: true } | { back: true });

const NAME = 'frelk';
let channel: BroadcastChannel | null = null;
const listeners = new Set<(news: News) => void>();

function open(): BroadcastChannel | null {
	if (channel || typeof BroadcastChannel === 'undefined') return channel;
	channel = new BroadcastChannel(NAME);
	channel.onmessage = ({ data }: MessageEvent<News>) => {
		if (data.by !== TAB) for (const listener of listeners) listener(data);
	};
	// Under Node an open channel would keep a test from ending.
	(channel as unknown as { unref?: () => void }).unref?.();
	return channel;
}

/** Tells all tabs; this one too, where it was not its bench that wrote. */
export function announce(news: News): void {
	if (news.by !== TAB) for (const listener of listeners) listener(news);
	open()?.postMessage(news);
}

/** @returns a function that stops listening */
export function onNews(listener: (news: News) => void): () => void {
	open();
	listeners.add(listener);
	return () => {
		listeners.delete(listener);
	};
}
