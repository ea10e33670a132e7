import { benchCycle } from './cycle';
import { benchGantry } from './gantry';
import { benchMechanism } from './mechanism';
import { benchMotions } from './motions';
import { benchPlanSampling } from './plan-sampling';
import { benchShapes } from './shapes';
import { benchSpaceParts } from './space-parts';
import { benchSimulateRank } from './simulate-rank';
import { benchSpace } from './space';

benchPlanSampling();
benchSimulateRank();
benchMechanism();
benchSpace();
benchGantry();
await benchMotions();
await benchCycle();
await benchShapes();
await benchSpaceParts();
