import { Bench } from '../features/bench/bench';

export default function BenchRoute() {
	return <Bench />;
}
