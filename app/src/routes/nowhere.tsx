import { Trouble } from '../ui/trouble';

export function meta() {
	return [{ title: 'Nothing here · Frelk' }];
}

export default function Nowhere() {
	return <Trouble title="There is nothing at this address" lines={[]} />;
}
