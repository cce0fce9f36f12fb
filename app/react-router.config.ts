import type { Config } from '@react-router/dev/config';

export default {
	appDirectory: 'src',
	// Projects lie in the browser: there is nothing a server could draw beforehand. One page is built, and answers every address.
	ssr: false,
	// All routes are known from the start: the page works with the server gone.
	routeDiscovery: { mode: 'initial' },
	future: { v8_middleware: true, v8_splitRouteModules: true, v8_viteEnvironmentApi: true },
} satisfies Config;
