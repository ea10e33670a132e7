export { CsvError, writeCsv } from './csv';
export { allChannels, allMechanismChannels, channelsCsv, type ChannelChoice } from './channels';
export { pointTableCsv } from './points';
export { readForceTable, writeForceTable, type ForceTable } from './force-table';
export { readCatalogue, writeCatalogue } from './catalogue';
export { lawCsv, lawsCsv } from './laws';
export { rankingCsv, rankingJson } from './ranking';
export * from './outline';
