/** The windows over the bench, each loaded when it is first opened. */
import { lazy, Suspense } from 'react';
import { useBench } from '../bench/store';

const Commands = lazy(() => import('./palette'));
const Keys = lazy(() => import('./key-list'));
const Roster = lazy(() => import('./roster'));
const Moments = lazy(() => import('../moments/moments'));
const Walk = lazy(() => import('./walk'));
const Delete = lazy(() => import('./delete'));

export function Panels() {
	const panel = useBench((s) => s.panel);
	if (panel === null) return null;
	return (
		<Suspense fallback={null}>
			{panel === 'commands' && <Commands />}
			{panel === 'keys' && <Keys />}
			{panel === 'roster' && <Roster />}
			{panel === 'moments' && <Moments />}
			{panel === 'walk' && <Walk />}
			{typeof panel === 'object' && <Delete kind={panel.delete.kind} ids={panel.delete.ids} />}
		</Suspense>
	);
}
