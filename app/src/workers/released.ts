import { releaseProxy } from 'comlink';

type Work = (...given: never[]) => unknown;

/**
 * @returns the same functions, which give back what they were handed to tell with once they are done: what hears it at the other end stays
 *   until then, and a worker that lives long collects nothing for hours
 */
export const released = <T extends Record<string, Work>>(functions: T): T =>
	Object.fromEntries(
		Object.entries(functions).map(([name, work]) => [
			name,
			async (...given: never[]) => {
				try {
					return await work(...given);
				} finally {
					for (const one of given as unknown[])
						if (typeof one === 'function') (one as { [releaseProxy]?: () => void })[releaseProxy]?.();
				}
			},
		]),
	) as T;
