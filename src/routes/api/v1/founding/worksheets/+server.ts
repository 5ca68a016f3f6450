import { z } from 'zod';
import { uploadsWithKey } from '$lib/server/doors/setting-up';
import { textOfFile } from '$lib/server/platform/worksheets/worksheets';

/** A workbook's first sheet as text, before there is a company; nothing is kept. */
export const POST = uploadsWithKey(z.strictObject({}), async ({ file }) => textOfFile(file.name, file.bytes));
