/** The card over the list at the left, where it was put. */
import { useBench, useDerived } from '../../model/use-bench';
import { Part } from '../../ui/part';

const loadCard = () => import('../card/object-card');
const loadCameraCard = () => import('../card/camera-card');

export function CardOverQueries() {
	const wanted = useBench((s) => s.cardSide === 'queries' && s.tool === null && s.dock === null);
	const camera = useBench((s) => s.camera);
	const { world } = useDerived();
	const picked = useBench((s) => s.picked);
	if (!wanted) return null;
	if (camera !== null) return <Part what="The card" load={loadCameraCard} give={{ id: camera, side: 'queries' }} />;
	const object = picked !== null ? world.objectById.get(picked) : undefined;
	return object ? <Part what="The card" load={loadCard} give={{ object, side: 'queries' }} /> : null;
}
