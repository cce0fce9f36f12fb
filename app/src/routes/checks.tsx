import { Board } from '../features/checks/board';

export default function ChecksRoute() {
	return <Board />;
}

export { ViewTrouble as ErrorBoundary } from '../ui/view-trouble';
