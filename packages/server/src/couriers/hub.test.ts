import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import WebSocket from 'ws'
import { courierProtocol } from '@bichroma/contract'
import { exampleHost } from '@bichroma/contract/test'
import { CourierHub } from './hub'

let server: Server
let hub: CourierHub
/** What the register does when a courier arrives or leaves. */
let arrived: () => Promise<void>
let left: () => Promise<void>
/** Begins to listen; `helloMs`: how long it waits until a courier says who it is, ms. */
async function listen(helloMs?: number) {
  arrived = async () => {}
  left = async () => {}
  server = createServer()
  const couriers = { arrived: () => arrived(), left: () => left(), changed: () => {}, displays: async () => {} }
  hub = new CourierHub(async () => 1, couriers, helloMs)
  hub.attach(server)
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
}
afterEach(async () => {
  hub.close()
  await new Promise((resolve) => server.close(resolve))
})

const hello = { type: 'hello', protocol: courierProtocol, host: exampleHost, displays: [], instruments: [] }

function knock(messages: readonly unknown[]) {
  const { port } = server.address() as AddressInfo
  const socket = new WebSocket(`ws://127.0.0.1:${port}/courier`, {
    headers: { authorization: `Bearer ${'k'.repeat(43)}` },
  })
  const heard: { sentence?: string }[] = []
  socket.on('error', () => {})
  socket.on('message', (data) => heard.push(JSON.parse(data.toString())))
  socket.on('open', () => messages.forEach((m) => socket.send(JSON.stringify(m))))
  return { socket, heard, closed: new Promise<void>((resolve) => socket.on('close', () => resolve())) }
}
const isIn = async () => {
  while (!hub.helloOf(1)) await new Promise((resolve) => setTimeout(resolve, 2))
}

test('a socket that does not say who it is in time is closed', async () => {
  await listen(40)
  const { heard, closed } = knock([])
  await closed
  expect(heard).toEqual([{ type: 'refused', sentence: 'The courier did not say who it is.' }])
})

test('a register that fails refuses the courier, and the next one is taken in', async () => {
  await listen()
  arrived = () => Promise.reject(new Error('the disk is full'))
  const first = knock([hello])
  await first.closed
  expect(first.heard[0].sentence).toBe('The server cannot take the courier in now. It tries again by itself.')
  arrived = async () => {}
  knock([hello])
  await isIn()
})

test('a leaving that cannot be stored is nobody’s end', async () => {
  await listen()
  let told = false
  left = () => {
    told = true
    return Promise.reject(new Error('the disk is full'))
  }
  const { socket } = knock([hello])
  await isIn()
  socket.terminate()
  while (hub.online().length) await new Promise((resolve) => setTimeout(resolve, 2))
  expect(told).toBe(true)
  expect(hub.expected(1)).toBe(true)
})

test('more than sixty hellos in a minute are one courier that starts again and again', async () => {
  await listen()
  for (let n = 0; n < 60; n++) {
    const { socket } = knock([hello])
    await isIn()
    socket.terminate()
    while (hub.helloOf(1)) await new Promise((resolve) => setTimeout(resolve, 1))
  }
  const { heard, closed } = knock([hello])
  await closed
  expect(heard[0].sentence).toContain('starts again and again')
})
