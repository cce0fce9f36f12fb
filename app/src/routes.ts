import { index, type RouteConfig, route } from '@react-router/dev/routes';

export default [
	index('routes/home.tsx'),
	route('guide', 'routes/guide.tsx'),
	route('link', 'routes/link.tsx'),
	route('file', 'routes/file.tsx'),
	route('p/:project', 'routes/project.tsx', [
		index('routes/bench.tsx'),
		route('checks', 'routes/checks.tsx'),
		route('filters', 'routes/filters.tsx'),
		route('time', 'routes/time.tsx'),
		route('level', 'routes/level.tsx'),
	]),
	route('*', 'routes/nowhere.tsx'),
] satisfies RouteConfig;
