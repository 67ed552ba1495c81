// What stands on the board: boxes with their sockets' rows, and the leads between.
import type { Device, Lead } from '../../api/client'

export interface Box {
  device: Device
  column: number
  x: number
  y: number
  w: number
  h: number
}
export interface Wire {
  lead: Lead
  path: string
  tagX: number
  tagY: number
}

export const TITLE = 53
export const LANE = 8
export const STUB = 54

export const rowY = (box: Box, port: string, row: number) =>
  box.y + TITLE + (box.device.ports.findIndex((p) => p.id === port) + 0.5) * row
