import { FiltersView } from '../features/filters/filters';

export default function FiltersRoute() {
	return <FiltersView />;
}
