/** Prints one JSON line per metric; ratios are taken within one run. See docs/bench.md. */
import { benchChance } from './chance';
import { benchData } from './data';
import { benchEngine } from './engine';
import { benchImport } from './import';
import { benchReport } from './report';
import { benchSchedule } from './schedule';

benchEngine();
benchReport();
benchSchedule();
await benchChance();
await benchImport();
await benchData();
