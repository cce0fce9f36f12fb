/** Said on every page where this browser keeps nothing. */
import { useSyncExternalStore } from 'react';
import { keepingNow } from '../../data/db';

const never = () => () => {};

export function KeepingNotice() {
	const keeping = useSyncExternalStore(never, keepingNow, () => null);
	if (!keeping || keeping.kept) return <div />;
	return (
		<p role="status" className="border-b-2 border-cut bg-panel px-4 py-1.5">
			<strong>Nothing is kept here:</strong> {keeping.why}. Projects last as long as this page; export what you want to
			keep.
		</p>
	);
}
