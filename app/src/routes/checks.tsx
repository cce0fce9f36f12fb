import { Board } from '../features/checks/board';

export default function ChecksRoute() {
	return <Board />;
}
