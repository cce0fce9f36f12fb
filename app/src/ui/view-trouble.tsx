import { useRevalidator, useRouteError } from 'react-router';
import { Button } from './controls';

/** In place of a view that failed: the project stays open around it. */
export function ViewTrouble() {
	const error = useRouteError();
	const { revalidate } = useRevalidator();
	return (
		<main role="alert" className="p-6">
			<p className="max-w-xl border-l-2 border-cut pl-3">
				<strong>This view failed.</strong> Your work is kept. {error instanceof Error ? error.message : String(error)}
			</p>
			<Button className="mt-3" onClick={() => void revalidate()}>
				Try again
			</Button>
		</main>
	);
}
