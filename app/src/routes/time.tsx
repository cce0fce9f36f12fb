import { TimeView } from '../features/time/time';

export default function TimeRoute() {
	return <TimeView />;
}

export { ViewTrouble as ErrorBoundary } from '../ui/view-trouble';
