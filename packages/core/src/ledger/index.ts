export { ChainCheck, type ChainedEntry, type ChainProof, chainStart, entryHash } from './chain'
