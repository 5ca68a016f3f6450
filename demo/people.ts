/** Kelpwick's departments, products, customers and users. */
import type { Department, Dimension, Entity, Member } from '../src/lib/core/company/schema';
import type { UserRecord } from '../src/lib/server/company/subjects/users';

export const entities: Entity[] = [
	{ code: 'ltd', name: 'Kelpwick Boatworks Ltd', currency: 'GBP' },
	{ code: 'oy', name: 'Kelpwick Baltic Oy', currency: 'EUR' }
];

const dep = (code: string, name: string, parent: string | null, entity = 'ltd'): Department => ({
	code,
	name,
	parent,
	entity
});
/** Departments of the company in Finland, which counts in euro. */
export const IN_EURO: ReadonlySet<string> = new Set(['baltic', 'baltic-sales', 'baltic-yard']);

export const departments: Department[] = [
	dep('kelpwick', 'Kelpwick Boatworks', null),
	dep('production', 'Production', 'kelpwick'),
	dep('hull-shop', 'Hull Shop', 'production'),
	dep('rigging', 'Rigging & Fit-out', 'production'),
	dep('sales', 'Sales', 'kelpwick'),
	dep('dealer-sales', 'Dealer Sales', 'sales'),
	dep('direct-web', 'Direct & Web', 'sales'),
	dep('harbour-club', 'Harbour Club', 'kelpwick'),
	dep('refit-yard', 'Refit Yard', 'kelpwick'),
	dep('design-office', 'Design Office', 'kelpwick'),
	dep('services', 'Shared services', 'kelpwick'),
	dep('finance-people', 'Finance & People', 'services'),
	dep('sites-it', 'Sites & IT', 'services'),
	dep('baltic', 'Kelpwick Baltic', 'kelpwick', 'oy'),
	dep('baltic-sales', 'Baltic Sales', 'baltic', 'oy'),
	dep('baltic-yard', 'Baltic Yard', 'baltic', 'oy')
];

export interface Item {
	code: string;
	name: string;
	family: 'dinghies' | 'kayaks' | 'boards' | 'accessories';
	size: string;
	colour: string;
	price: number;
	/** Material share of the price. */
	material: number;
	/** Units in an average month, all channels and regions. */
	units: number;
}
const item = (
	code: string,
	name: string,
	family: Item['family'],
	size: string,
	colour: string,
	price: number,
	material: number,
	units: number
): Item => ({
	code,
	name,
	family,
	size,
	colour,
	price,
	material,
	units
});
export const items: Item[] = [
	item('tern-9', 'Tern 9', 'dinghies', '2.7 m', 'white', 2450, 0.348, 21),
	item('tern-11', 'Tern 11', 'dinghies', '3.4 m', 'white', 3950, 0.34, 17),
	item('curlew-13', 'Curlew 13', 'dinghies', '4.0 m', 'blue', 6400, 0.323, 12),
	item('curlew-15', 'Curlew 15', 'dinghies', '4.6 m', 'blue', 9200, 0.315, 6),
	item('eider-10', 'Eider 10', 'kayaks', '3.0 m', 'red', 640, 0.306, 78),
	item('eider-12', 'Eider 12', 'kayaks', '3.7 m', 'red', 890, 0.297, 60),
	item('scoter-14', 'Scoter 14', 'kayaks', '4.3 m', 'green', 1350, 0.289, 39),
	item('scoter-16', 'Scoter 16', 'kayaks', '4.9 m', 'green', 1790, 0.281, 21),
	item('plover-10', 'Plover 10', 'boards', '3.1 m', 'yellow', 420, 0.374, 83),
	item('plover-11', 'Plover 11', 'boards', '3.4 m', 'yellow', 520, 0.365, 62),
	item('plover-tour', 'Plover Touring', 'boards', '3.8 m', 'teal', 760, 0.357, 29),
	item('sail-set', 'Sail set', 'accessories', '', 'white', 540, 0.468, 34),
	item('paddle', 'Carbon paddle', 'accessories', '', 'black', 145, 0.425, 156),
	item('aid', 'Buoyancy aid', 'accessories', '', 'orange', 85, 0.442, 195),
	item('trolley', 'Launch trolley', 'accessories', '', 'grey', 260, 0.476, 44),
	item('cover', 'Boat cover', 'accessories', '', 'grey', 190, 0.425, 57)
];

const FAMILIES: [Item['family'], string, string, string][] = [
	['dinghies', 'Dinghies', '4000', '5000'],
	['kayaks', 'Kayaks', '4010', '5010'],
	['boards', 'Paddleboards', '4020', '5020'],
	['accessories', 'Accessories', '4030', '5030']
];
const plain = (
	code: string,
	name: string,
	parent: string | null = null,
	attributes: Record<string, string> = {}
): Member => ({
	code,
	name,
	parent,
	retired: false,
	attributes
});

export const dealers: [string, string, string][] = [
	['marlow-marine', 'Marlow Marine', 'south'],
	['sandpiper', 'Sandpiper Chandlery', 'south'],
	['fenwick-boats', 'Fenwick Boats', 'south'],
	['quay-supply', 'Quay Supply', 'south'],
	['fellside', 'Fellside Watersports', 'lakes'],
	['tarn-hows', 'Tarn & Howe', 'lakes'],
	['brathay', 'Brathay Paddle', 'lakes'],
	['isle-craft', 'Isle Craft', 'islands'],
	['skerry', 'Skerry Sailing', 'islands'],
	['sound-boats', 'Sound Boats', 'islands'],
	['lauttasaari', 'Lautta Vene', 'baltic'],
	['kalmar-sjo', 'Kalmar Sjö', 'baltic']
];

const ASSET_CLASSES: [code: string, name: string, life: number, charged: string, held: string][] = [
	['buildings', 'Buildings', 300, '6700', '1400'],
	['moulds', 'Moulds', 96, '6710', '1410'],
	['plant', 'Plant', 120, '6710', '1410'],
	['vehicles', 'Vehicles', 60, '6720', '1420'],
	['software', 'Software', 60, '6730', '1430']
];
/** The account to which depreciation of a class of assets is charged. */
export const chargedTo = (kind: string): string => ASSET_CLASSES.find(([code]) => code === kind)![3];

export const dimensions: Dimension[] = [
	{
		code: 'product',
		name: 'Product',
		members: FAMILIES.flatMap(([family, name, revenue, material]) => [
			plain(family, name, null, { revenue_account: revenue, material_account: material }),
			...items
				.filter((i) => i.family === family)
				.map((i) =>
					plain(
						i.code,
						i.name,
						family,
						Object.fromEntries(
							[
								['size', i.size],
								['colour', i.colour]
							].filter(([, v]) => v)
						)
					)
				)
		])
	},
	{
		code: 'channel',
		name: 'Channel',
		members: [
			plain('dealer', 'Dealer', null, { department: 'dealer-sales' }),
			plain('direct', 'Direct', null, { department: 'direct-web' }),
			plain('web', 'Web', null, { department: 'direct-web' })
		]
	},
	{
		code: 'region',
		name: 'Region',
		members: [
			plain('south', 'South Coast'),
			plain('lakes', 'Lakes'),
			plain('islands', 'Islands'),
			plain('baltic', 'Baltic')
		]
	},
	{ code: 'customer', name: 'Customer', members: dealers.map(([code, name]) => plain(code, name)) },
	{
		code: 'staff_group',
		name: 'Staff group',
		members: [
			plain('workshop', 'Workshop'),
			plain('office', 'Office'),
			plain('club', 'Club'),
			plain('sales', 'Sales'),
			plain('manager', 'Managers')
		]
	},
	{
		code: 'tax_region',
		name: 'Tax region',
		members: [
			plain('coast', 'Kelp Coast'),
			plain('coast-works', 'Kelp Coast, workshops', 'coast'),
			plain('coast-office', 'Kelp Coast, offices', 'coast'),
			plain('finland', 'Finland')
		]
	},
	{
		code: 'benefit_plan',
		name: 'Benefit plan',
		members: [plain('pension', 'Pension'), plain('pension-health', 'Pension and health cover')]
	},
	{
		code: 'asset_class',
		name: 'Asset class',
		members: ASSET_CLASSES.map(([code, name, life, charged_to, held_at]) =>
			plain(code, name, null, { charged_to, held_at, life: String(life), method: 'straight-line' })
		)
	}
];
/** Dimensions by which the ledger tells entries apart. */
export const LEDGER_TAGS = ['product', 'channel', 'region', 'customer'];

const user = (email: string, name: string, role: UserRecord['role'], ...of: string[]): UserRecord => ({
	email: `${email}@kelpwick.example`,
	name,
	role,
	departments: of,
	pay: role === 'analyst'
});
export const users: UserRecord[] = [
	user('maren.holt', 'Maren Holt', 'analyst', 'kelpwick'),
	user('oliver.strand', 'Oliver Strand', 'reviewer', 'kelpwick'),
	user('petra.lind', 'Petra Lind', 'contributor', 'production'),
	user('tom.aldous', 'Tom Aldous', 'contributor', 'sales'),
	user('ines.calder', 'Ines Calder', 'contributor', 'harbour-club'),
	user('hugh.penrose', 'Hugh Penrose', 'contributor', 'refit-yard'),
	user('asha.rao', 'Asha Rao', 'contributor', 'design-office'),
	user('nora.whitlock', 'Nora Whitlock', 'contributor', 'finance-people'),
	user('dale.furness', 'Dale Furness', 'contributor', 'sites-it'),
	user('eero.lahti', 'Eero Lahti', 'contributor', 'baltic'),
	user('beth.crane', 'Beth Crane', 'viewer', 'kelpwick')
];
