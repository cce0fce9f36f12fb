/** The first walk: three steps through the bench for who has never seen it. It lies beside what goes on, and holds up nothing. */
import { useEffect, useRef, useState } from 'react';
import { useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';

const STEPS: { title: string; text: string; where: string }[] = [
	{
		title: 'A query is a sentence',
		text: 'Across the top stands what the query asks, in words. Click any marked part to change it; “+” says more. The queries at the left all answer at once.',
		where: 'top-34 left-60',
	},
	{
		title: 'The answer follows the hand',
		text: 'Drag the cursor in the eye, or click an object on the stage and drag it. There is nothing to run: every answer follows while you move.',
		where: 'bottom-56 left-[38%]',
	},
	{
		title: 'Every object has a verdict',
		text: 'The ladder at the right says for each object how far it came and what stopped it, in figures. Point at a row: the reason is drawn on the stage.',
		where: 'top-30 right-80',
	},
];

export default function Walk() {
	const store = useBenchStore();
	const [at, setAt] = useState(0);
	const next = useRef<HTMLButtonElement>(null);
	/** Where the hand was before: it goes back there. */
	const before = useRef<Element | null>(null);
	useEffect(() => {
		before.current = document.activeElement;
		next.current?.focus();
		return () => {
			// Of what is taken away the focus falls on the page; who has gone on elsewhere stays there.
			setTimeout(() => {
				if (document.activeElement === document.body) (before.current as HTMLElement | null)?.focus?.();
			}, 0);
		};
	}, []);
	const step = STEPS[at];
	if (!step) return null;
	const isLast = at === STEPS.length - 1;
	const close = () => store.getState().takeWalk(false);
	return (
		<section
			aria-label={`First walk, step ${at + 1} of ${STEPS.length}`}
			className={`absolute z-40 w-80 max-w-[calc(100%-1rem)] rounded-[4px] border-2 border-ink bg-panel p-4 shadow-lg ${step.where}`}
		>
			<p className="text-[12px] text-quiet">
				{at + 1} of {STEPS.length}
			</p>
			<h2 className="mb-1 text-[15px] font-semibold">{step.title}</h2>
			<p className="mb-3">{step.text}</p>
			<div className="flex gap-2">
				{at > 0 && <Button onClick={() => setAt(at - 1)}>Back</Button>}
				<button
					ref={next}
					type="button"
					className="min-h-6 rounded-[3px] border bg-panel px-2 py-0.5 font-semibold hover:bg-[var(--wash)]"
					onClick={() => (isLast ? close() : setAt(at + 1))}
				>
					{isLast ? 'Begin' : 'Next'}
				</button>
				<Button quiet className="ml-auto" onClick={close}>
					Skip
				</Button>
			</div>
		</section>
	);
}
