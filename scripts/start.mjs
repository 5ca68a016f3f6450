/** Starts the application for use: builds it when needed, then serves the database in YARDSTAVE_DATABASE. */
import { build, endTogether, install, serve } from './tasks.mjs';

install();
build();
const port = Number(process.env.PORT ?? 3000);
console.log(`Yardstave is at http://${process.env.HOST ?? '127.0.0.1'}:${port}`);
endTogether(serve(port));
