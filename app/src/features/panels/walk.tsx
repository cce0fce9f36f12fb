/** The first walk: three steps through the bench for who has never seen it. */
import { useState } from 'react';
import { useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';

const STEPS: { title: string; text: string; where: string }[] = [
	{
		title: 'A query is a sentence',
		text: 'Across the top stands what the query asks, in words. Click any marked part to change it; “+” says more. The queries at the left all answer at once.',
		where: 'top-44 left-60',
	},
	{
		title: 'The answer follows the hand',
		text: 'Drag the cursor in the eye, or click an object on the stage and drag it. There is nothing to run: every answer follows while you move.',
		where: 'bottom-56 left-[38%]',
	},
	{
		title: 'Every object has a verdict',
		text: 'The ladder at the right says for each object how far it came and what stopped it, in figures. Point at a row: the reason is drawn on the stage.',
		where: 'top-40 right-80',
	},
];

export default function Walk() {
	const store = useBenchStore();
	const [at, setAt] = useState(0);
	const step = STEPS[at];
	if (!step) return null;
	return (
		<section
			aria-label={`First walk, step ${at + 1} of ${STEPS.length}`}
			className={`fixed z-40 w-80 rounded-[4px] border-2 border-ink bg-panel p-4 shadow-lg ${step.where}`}
		>
			<p className="text-[12px] text-quiet">
				{at + 1} of {STEPS.length}
			</p>
			<h2 className="mb-1 text-[15px] font-semibold">{step.title}</h2>
			<p className="mb-3">{step.text}</p>
			<div className="flex gap-2">
				{at > 0 && <Button onClick={() => setAt(at - 1)}>Back</Button>}
				{at < STEPS.length - 1 ? (
					<Button className="font-semibold" onClick={() => setAt(at + 1)}>
						Next
					</Button>
				) : (
					<Button className="font-semibold" onClick={() => store.getState().show(null)}>
						Begin
					</Button>
				)}
				<Button quiet className="ml-auto" onClick={() => store.getState().show(null)}>
					Skip
				</Button>
			</div>
		</section>
	);
}
