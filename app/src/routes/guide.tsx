import { Guide } from '../features/guide/guide';

export function meta() {
	return [{ title: 'Guide · Frelk' }];
}

export default function GuideRoute() {
	return <Guide />;
}
