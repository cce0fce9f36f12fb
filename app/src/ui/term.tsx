/** A word that says what it means where it stands: on focus, or when the pointer rests on it. */
import { type ComponentType, useState } from 'react';

type Tip = ComponentType<{ word: string; at: DOMRect }>;
let FetchedTip: Tip | null = null;

/** @param is the word as the guide lists it, where it stands here in another form */
export function Term({ children, is }: { children: string; is?: string }) {
	const [at, setAt] = useState<DOMRect | null>(null);
	const show = (element: Element) => {
		const box = element.getBoundingClientRect();
		if (FetchedTip) return setAt(box);
		import('./term-tip').then(
			(module) => {
				FetchedTip = module.default;
				setAt(box);
			},
			() => {
				// The guide has it too.
			},
		);
	};
	return (
		<>
			<button
				type="button"
				className="cursor-help border-b border-dotted border-current"
				onPointerEnter={(event) => show(event.currentTarget)}
				onPointerLeave={() => setAt(null)}
				onFocus={(event) => event.currentTarget.matches(':focus-visible') && show(event.currentTarget)}
				onBlur={() => setAt(null)}
				onClick={(event) => show(event.currentTarget)}
				onKeyDown={(event) => {
					if (event.key !== 'Escape' || !at) return;
					event.preventDefault();
					event.stopPropagation();
					setAt(null);
				}}
			>
				{children}
			</button>
			{at && FetchedTip && <FetchedTip word={is ?? children} at={at} />}
		</>
	);
}
