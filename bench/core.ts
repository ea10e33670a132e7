import { benchPlanSampling } from './plan-sampling';
import { benchSimulateRank } from './simulate-rank';

benchPlanSampling();
benchSimulateRank();
