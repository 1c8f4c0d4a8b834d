import { runningOn } from '@palabra/embedded-postgres';
import pg from 'pg';
const c=new pg.Client(runningOn('/work/main/.palabra/demo-12000/data'));await c.connect();
const r=await c.query(process.argv[2]);console.log(JSON.stringify(r.rows));await c.end();
