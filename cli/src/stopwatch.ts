/** How long each of several things took that are done one after the other. */

/** @returns seconds by what was done, and what is told when one is done */
export function stopwatch(): { seconds: Map<string, number>; judged: (id: string) => void } {
	const seconds = new Map<string, number>();
	let last = performance.now();
	return {
		seconds,
		judged: (id) => {
			const now = performance.now();
			seconds.set(id, (now - last) / 1000);
			last = now;
		},
	};
}
