/**
 * What happens to files on disk, as the server tells it. A browser holds few connections to one server, so one tab listens and tells the
 * others; when it goes the next one does.
 */
const NAME = 'frelk-disk';

/** `now`: the key under which the same bytes lie elsewhere since. `hello`: the server is there, and may have told things before. */
type DiskNews =
	| { hello: true }
	| ({ key: string; name: string } & ({ hash: string } | { gone: true; now: string | null }));

const listeners = new Set<(news: DiskNews) => void>();
let channel: BroadcastChannel | null = null;
/** Ends this tab's turn at listening, or its wait for it. */
let end: (() => void) | null = null;

function tell(news: DiskNews): void {
	for (const listener of listeners) listener(news);
}

function listen(): () => void {
	const source = new EventSource('/api/disk/news');
	const both = (news: DiskNews) => {
		tell(news);
		channel?.postMessage(news);
	};
	source.addEventListener('hello', () => both({ hello: true }));
	source.addEventListener('news', ({ data }) => both(JSON.parse(data as string) as DiskNews));
	return () => source.close();
}

function begin(): void {
	channel = new BroadcastChannel(NAME);
	channel.onmessage = ({ data }: MessageEvent<DiskNews>) => tell(data);
	if (!navigator.locks) {
		end = listen();
		return;
	}
	const stop = new AbortController();
	let over = () => {};
	const turn = new Promise<void>((done) => {
		over = done;
	});
	void navigator.locks
		.request(NAME, { signal: stop.signal }, async () => {
			const close = listen();
			await turn;
			close();
		})
		.catch(() => {
			// It was no longer wanted before it was this tab's turn.
		});
	end = () => {
		stop.abort();
		over();
	};
}

/** @returns a function that stops listening */
export function onDiskNews(listener: (news: DiskNews) => void): () => void {
	if (listeners.size === 0) begin();
	listeners.add(listener);
	return () => {
		listeners.delete(listener);
		if (listeners.size > 0) return;
		end?.();
		channel?.close();
		end = channel = null;
	};
}
