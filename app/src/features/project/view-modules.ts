/**
 * The code of the views, fetched while the first one stands, so that the others come at once and are there when the server is gone.
 * Fetched and not run: React Router runs what it prefetches by itself, and where that fails loads the page anew, which takes the
 * place of whatever the user went to meanwhile.
 */
import { useEffect } from 'react';
import { preloadModule } from 'react-dom';
import * as z from 'zod';

/** What React Router tells the page of its routes, as far as it is read here. */
const manifest = z.object({
	routes: z.record(z.string(), z.object({ module: z.string(), imports: z.array(z.string()).optional() })),
});

const VIEWS = ['routes/bench', 'routes/checks', 'routes/filters', 'routes/time'];

/** @returns the paths of all modules that the views need, each once; none where the routes are told in another way */
export function modulesOfViews(told: unknown): string[] {
	const read = manifest.safeParse(told);
	if (!read.success) return [];
	const { routes } = read.data;
	return [...new Set(VIEWS.flatMap((id) => (routes[id] ? [routes[id].module, ...(routes[id].imports ?? [])] : [])))];
}

export function useViewModules(): void {
	useEffect(() => {
		const told = (window as { __reactRouterManifest?: unknown }).__reactRouterManifest;
		for (const path of modulesOfViews(told)) preloadModule(path, { as: 'script' });
	}, []);
}
