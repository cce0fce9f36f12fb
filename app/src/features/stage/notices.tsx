/** What the stage says of itself: that what is shown is only tried, that there is nothing yet. */
import { useBench, useDerived } from '../../model/use-bench';

/** @param looksOnly nothing can be made here */
export function StageNotices({ looksOnly }: { looksOnly: boolean }) {
	const { world } = useDerived();
	const preview = useBench((s) => s.preview);
	const draws = useBench((s) => s.tool !== null);
	return (
		<>
			{preview && (
				<p
					role="status"
					className="pointer-events-none absolute top-11 left-2 max-w-[60%] rounded-[3px] border-2 border-ink bg-panel px-3 py-1"
				>
					As it would be: {preview.words}
				</p>
			)}
			{world.objects.length === 0 && !draws && !looksOnly && (
				<p className="pointer-events-none absolute inset-x-0 top-1/3 text-center text-quiet">
					This scene is empty. Choose Add, above, and draw the first object where it should stand.
				</p>
			)}
		</>
	);
}
