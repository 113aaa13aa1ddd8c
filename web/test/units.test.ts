import assert from 'node:assert/strict'
import { test } from 'node:test'
import { digits, readNumber, withUnit } from '../src/ui/units'

test('a working shows the digits it takes to follow it by hand', () => {
  for (const [value, unit, wanted] of [
    [12.7, 'ha', '12.7 ha'],
    [6.272542372881356, 'ha', '6.273 ha'],
    [1742.31, 'kg_ha', '1 742 kg/ha'],
    [0.0234, '', '0.0234'],
    [3, '', '3'],
  ] as const)
    assert.equal(withUnit(value, unit, 'metric', digits(value, unit, 'metric')).replaceAll('\u00a0', ' '), wanted)
})

test('numbers are read as people write them', () => {
  for (const [text, wanted] of [
    ['1500', { value: 1500 }],
    ['1 500', { value: 1500 }],
    ['1\u00a0500,5', { value: 1500.5 }],
    ['1,500', { value: 1500, or: 1.5 }],
    ['1.500', { value: 1500, or: 1.5 }],
    ['12,345', { value: 12345, or: 12.345 }],
    ['0.500', { value: 0.5 }],
    ['0,023', { value: 0.023 }],
    ['1,500.5', { value: 1500.5 }],
    ['1.500,5', { value: 1500.5 }],
    ['1,500,000', { value: 1500000 }],
    ['8,5', { value: 8.5 }],
    ['8.25', { value: 8.25 }],
    ['−3', { value: -3 }],
    ['', { value: null }],
    ['abc', { value: null, wrong: true }],
    ['12 kg', { value: null, wrong: true }],
    ['1.2.3', { value: null, wrong: true }],
    ['.', { value: null, wrong: true }],
  ] as const)
    assert.deepEqual(readNumber(text), wanted, text)
})
