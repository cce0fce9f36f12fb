import { FiltersView } from '../features/filters/filters';

export default function FiltersRoute() {
	return <FiltersView />;
}

export { ViewTrouble as ErrorBoundary } from '../ui/view-trouble';
