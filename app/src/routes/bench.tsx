import { Bench } from '../features/bench/bench';

export default function BenchRoute() {
	return <Bench />;
}

export { ViewTrouble as ErrorBoundary } from '../ui/view-trouble';
