import { X509Certificate } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { createSecureContext } from 'node:tls'
import { StoreRefusal } from '../data/storeFault'

/** A private key and its certificate, PEM. */
export interface TlsFiles {
  readonly key: Buffer
  readonly cert: Buffer
}

/** Reads what TLS needs. Throws StoreRefusal that names the file and what is wrong with it. */
export function readTls(keyFile: string, certFile: string, now: number): TlsFiles {
  const [key, cert] = [read(keyFile, 'private key'), read(certFile, 'certificate')]
  let certificate: X509Certificate
  try {
    certificate = new X509Certificate(cert)
  } catch {
    throw new StoreRefusal(`The certificate ${certFile} is not one in PEM.`)
  }
  if (Date.parse(certificate.validTo) < now)
    throw new StoreRefusal(`The certificate ${certFile} ran out on ${certificate.validTo}. Have it made anew.`)
  try {
    createSecureContext({ key, cert })
  } catch {
    throw new StoreRefusal(`The private key ${keyFile} does not fit the certificate ${certFile}, or is not one in PEM.`)
  }
  return { key, cert }
}

function read(file: string, what: string): Buffer {
  try {
    return readFileSync(file)
  } catch (error) {
    throw new StoreRefusal(`The ${what} ${file} cannot be read: ${(error as Error).message}.`)
  }
}
