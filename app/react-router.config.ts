import type { Config } from '@react-router/dev/config';

export default {
	appDirectory: 'src',
	ssr: true,
	// All routes are known from the start: the page works with the server gone.
	routeDiscovery: { mode: 'initial' },
	future: { v8_middleware: true, v8_splitRouteModules: true, v8_viteEnvironmentApi: true },
} satisfies Config;
