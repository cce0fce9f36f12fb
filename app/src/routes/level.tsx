import LevelView from '../features/level/level-view';

export default function LevelRoute() {
	return <LevelView />;
}

export { ViewTrouble as ErrorBoundary } from '../ui/view-trouble';
