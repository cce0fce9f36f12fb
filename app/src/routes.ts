import { index, type RouteConfig, route } from '@react-router/dev/routes';

export default [index('routes/home.tsx'), route('p/:project', 'routes/bench.tsx'), route('*', 'routes/nowhere.tsx')] satisfies RouteConfig;
