// Lays the demo out once; every test starts from a copy of it.
import { Program } from './program.js';

export default async function setup() {
  const demo = await new Program('demo').start();
  await demo.kill('SIGTERM');
  process.env.JEVVO_DEMO = demo.data;
  return () => demo.remove();
}
