import { runningOn } from '@palabra/embedded-postgres';
import pg from 'pg';
import { Keys } from './dist/platform/keys.js';
import { drizzle } from 'drizzle-orm/node-postgres';
const pool=new pg.Pool(runningOn('/work/main/.palabra/demo-12000/data'));
const keys=await Keys.load(drizzle(pool,{casing:'snake_case'}),new Date());
console.log(keys.sign('leave',{campaign:Number(process.argv[2]),contact:Number(process.argv[3]),link:0}));await pool.end();
