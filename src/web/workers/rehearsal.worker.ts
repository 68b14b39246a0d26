import { expose } from 'comlink';
import { rehearsalApi } from './rehearsalApi.ts';

expose(rehearsalApi);
