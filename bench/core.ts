import { benchMechanism } from './mechanism';
import { benchPlanSampling } from './plan-sampling';
import { benchSimulateRank } from './simulate-rank';

benchPlanSampling();
benchSimulateRank();
benchMechanism();
