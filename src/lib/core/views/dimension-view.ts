/** A dimension as those see it who add members to it. */
export interface DimensionView {
	code: string;
	name: string;
	attributes: string[];
	/** Parents before those under them. */
	members: {
		code: string;
		name: string;
		parent: string | null;
		depth: number;
		leaf: boolean;
		/** Itself; it is not offered when one above it is either. */
		retired: boolean;
		offered: boolean;
		attributes: Record<string, string>;
		/** Attributes that come from above. */
		inherited: Record<string, string>;
		/** Rows of driver models that name it. */
		rows: number;
	}[];
	/** Driver models that have the dimension, with the lines whose figures a new member may take over. */
	models: { code: string; name: string; lines: { code: string; label: string }[] }[];
}
