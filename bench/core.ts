import { benchCycle } from './cycle';
import { benchMechanism } from './mechanism';
import { benchMotions } from './motions';
import { benchPlanSampling } from './plan-sampling';
import { benchSimulateRank } from './simulate-rank';

benchPlanSampling();
benchSimulateRank();
benchMechanism();
await benchMotions();
await benchCycle();
