// Makes what the browser and the processes of their own run: pages and programs.
import { buildPages, buildPrograms } from './setup.mjs';

buildPages();
buildPrograms();
