/** The handles there are to take: of what is in hand, of the open query, of what another view lays over the stage. */
import { useMemo } from 'react';
import { useBench, useDerived, useQuery } from '../../../model/use-bench';
import { isLocked } from '../../edit/objects';
import type { QueryGeometry } from '../overlay/geometry';
import { cameraHandles } from './camera-handles';
import type { Handle } from './handles';
import { objectHandles } from './object-handles';
import { queryHandles } from './query-handles';

/** @returns none while something is drawn */
export function useHandles(geometry: QueryGeometry | null, laidOver?: readonly Handle[]): readonly Handle[] {
	const { world } = useDerived();
	const query = useQuery();
	const picked = useBench((s) => s.picked);
	const alone = useBench((s) => s.selection.length === 1);
	const held = useBench((s) => s.camera);
	const inDetail = useBench((s) => s.inDetail);
	const draws = useBench((s) => s.tool !== null);
	const object = picked === null ? undefined : world.objectById.get(picked);
	const live = world.queryById.get(query?.id ?? '');
	return useMemo(() => {
		if (draws) return [];
		const ofObject = object && alone && !isLocked(object.def) ? objectHandles(world, object) : [];
		const camera = held === null ? undefined : world.cameras.get(held);
		return [
			...(camera ? cameraHandles(world, camera) : []),
			...ofObject.filter((handle) => inDetail || handle.id !== 'focus'),
			...(geometry && live ? queryHandles(world, live, geometry.placement) : []),
			...(laidOver ?? []),
		];
	}, [world, object, alone, geometry, live, draws, inDetail, held, laidOver]);
}
