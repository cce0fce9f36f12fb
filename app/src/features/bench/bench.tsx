/** The bench: rail, sentence, stage and ladder around one project. */
import { useEffect, useState } from 'react';
import { readLocal, writeLocal } from '../../data/local';
import { useBench, useBenchStore, useDerived } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Boundary, Part } from '../../ui/part';
import { Ladder } from '../ladder/ladder';
import { Sentence } from '../sentence/sentence';
import { Stage } from '../stage/stage';
import { Rail } from './rail';
import { Strip } from './strip';

const loadSlip = () => import('../slip/slip');

/** The slip, where it was put over the list of queries. */
function SlipOverRail() {
	const wanted = useBench(
		(s) =>
			s.slipSide === 'rail' && s.picked !== null && s.tool === null && s.panel !== 'roster' && s.panel !== 'moments',
	);
	const { world } = useDerived();
	const picked = useBench((s) => s.picked);
	const object = wanted && picked !== null ? world.objectById.get(picked) : undefined;
	return object ? <Part what="The slip" load={loadSlip} give={{ object, side: 'rail' }} /> : null;
}

export function Bench() {
	const store = useBenchStore();
	const [drawer, setDrawer] = useState<'queries' | 'ladder' | null>(null);
	// The walk speaks of what is on the bench: who comes in by another view is shown it here.
	useEffect(() => {
		if (readLocal('frelk-walked')) return;
		writeLocal('frelk-walked', 'yes');
		store.getState().show('walk');
	}, [store]);
	return (
		<main className="relative grid min-h-0 grid-cols-[13.5rem_minmax(0,1fr)_18.5rem] max-[1140px]:grid-cols-[11rem_minmax(0,1fr)_15rem] max-[980px]:grid-cols-[minmax(0,1fr)]">
			{/* With little room the panels at both sides are drawers over the stage. */}
			<div className="absolute right-2 bottom-25 z-30 hidden gap-1 max-[980px]:flex">
				{(['queries', 'ladder'] as const).map((name) => (
					<Button
						key={name}
						aria-pressed={drawer === name}
						className={drawer === name ? 'border-ink! font-semibold' : ''}
						onClick={() => setDrawer(drawer === name ? null : name)}
					>
						{name === 'queries' ? 'Queries' : 'Ladder'}
					</Button>
				))}
			</div>
			<div
				className={`relative z-10 grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)] max-[980px]:absolute max-[980px]:inset-y-0 max-[980px]:left-0 max-[980px]:w-56 max-[980px]:shadow-lg ${drawer === 'queries' ? '' : 'max-[980px]:hidden'}`}
			>
				<Boundary what="The list of queries">
					<Rail />
				</Boundary>
				<SlipOverRail />
			</div>
			<div className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto]">
				<Boundary what="The sentence">
					<Sentence />
				</Boundary>
				<Boundary what="The stage">
					<Stage />
				</Boundary>
				<Boundary what="The distance strip">
					<Strip />
				</Boundary>
			</div>
			<div
				className={`grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)] max-[980px]:absolute max-[980px]:inset-y-0 max-[980px]:right-0 max-[980px]:z-20 max-[980px]:w-72 max-[980px]:pb-34 max-[980px]:shadow-lg ${drawer === 'ladder' ? 'bg-panel' : 'max-[980px]:hidden'}`}
			>
				<Boundary what="The ladder">
					<Ladder />
				</Boundary>
			</div>
		</main>
	);
}
