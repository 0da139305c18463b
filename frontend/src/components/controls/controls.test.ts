// @vitest-environment happy-dom
import { enableAutoUnmount, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import ChooseOne from './ChooseOne.vue'
import ChooseSeveral from './ChooseSeveral.vue'
import DayField from './DayField.vue'

enableAutoUnmount(afterEach)

const field = (day: string, more: object = {}) =>
  mount(DayField, {
    props: { modelValue: day, label: 'Until', ...more },
    attachTo: document.body,
  })

describe('a day', () => {
  it('is shown as the interface shows days, and named where the focus is', () => {
    const input = field('2026-09-01').get('input')
    expect(input.element.value).toBe('1 Sep 2026')
    expect(input.attributes('aria-label')).toBe('Until')
  })
  it.each([
    ['1 Sep 2026', '2026-09-01'],
    ['1.9.2026', '2026-09-01'],
    ['01/09/2026', '2026-09-01'],
    ['2026-09-01', '2026-09-01'],
    ['20260901', '2026-09-01'],
    ['1 September 2026', '2026-09-01'],
    ['29.2.2028', '2028-02-29'],
  ])('may be typed %s', async (typed, day) => {
    const control = field('')
    const input = control.get('input')
    await input.trigger('mousedown')
    await input.trigger('focus')
    await input.setValue(typed)
    await input.trigger('keydown', { key: 'Enter', which: 13, keyCode: 13 })
    expect(control.emitted('update:modelValue')?.at(-1)).toEqual([day])
  })
  it.each(['29.2.2026', 'soon', '31 Sep 2026', '1 Sep 2025'])(
    'that is none, or too early, is not taken: %s',
    async (typed) => {
      const control = field('', { min: '2026-01-01' })
      const input = control.get('input')
      await input.trigger('mousedown')
      await input.trigger('focus')
      await input.setValue(typed)
      await input.trigger('keydown', { key: 'Enter', which: 13, keyCode: 13 })
      expect(control.emitted('update:modelValue')).toBeUndefined()
    },
  )
})

describe('one of a list', () => {
  const options = Array.from({ length: 9 }, (_, place) => ({
    value: `C${place}`,
    label: `Łódź ${place}`,
    also: place === 4 ? 'Litzmannstadt' : '',
  }))
  const list = (modelValue: string | null) =>
    mount(ChooseOne, { props: { modelValue, options, label: 'Town' }, attachTo: document.body })

  it('says its name and what is chosen before and after it is opened', async () => {
    const control = list('C4')
    const standIn = control.get('[role=combobox]')
    expect(standIn.attributes('aria-label')).toBe('Town')
    expect(standIn.text()).toContain('Łódź 4')
    await standIn.trigger('click')
    expect(control.get('input').attributes('aria-label')).toBe('Town')
    expect(document.activeElement).toBe(control.get('input').element)
    await control.setProps({ modelValue: 'C5', label: 'Town of birth' })
    await nextTick()
    expect(control.get('input').attributes('aria-label')).toBe('Town of birth')
    expect(control.text()).toContain('Łódź 5')
  })
  it.each(['ArrowDown', 'Enter', 'l'])('is opened by %s', async (key) => {
    const control = list(null)
    await control.get('[role=combobox]').trigger('keydown', { key })
    expect(control.get('input').attributes('aria-expanded')).toBe('true')
  })
  it.each(['Tab', 'Escape', 'z'])(
    'is left alone by %s with a key of another purpose',
    async (key) => {
      const control = list(null)
      await control.get('[role=combobox]').trigger('keydown', { key, ctrlKey: true })
      expect(control.find('input').exists()).toBe(false)
    },
  )
  it('is found by other ways in which it was written, and chosen by Enter', async () => {
    const control = list(null)
    await control.get('[role=combobox]').trigger('click')
    const input = control.get('input')
    await input.setValue('litzmann')
    await nextTick()
    const shown = [...document.querySelectorAll('.ant-select-item-option')]
    expect(shown.map((one) => one.textContent)).toEqual(['Łódź 4'])
    await input.trigger('keydown', { key: 'Enter', which: 13, keyCode: 13 })
    expect(control.emitted('update:modelValue')?.at(-1)).toEqual(['C4'])
  })
})

describe('several of a list', () => {
  const several = (modelValue: string) =>
    mount(ChooseSeveral, {
      props: {
        modelValue,
        label: 'Roles',
        options: [
          { value: 'MEMBER', label: 'MEMBER Member' },
          { value: 'REGIST', label: 'REGIST Registrar', also: 'Kanzlei' },
        ],
      },
      attachTo: document.body,
    })
  const typing = async (control: ReturnType<typeof several>, text: string) => {
    const input = control.get('input')
    await input.trigger('mousedown')
    await input.setValue(text)
    await input.trigger('keydown', { key: 'Enter', which: 13, keyCode: 13 })
  }
  const now = (control: ReturnType<typeof several>) =>
    control.emitted('update:modelValue')?.at(-1)?.[0]

  it('says its name, and shows each that is chosen', () => {
    const control = several('MEMBER; ODD')
    expect(control.get('input').attributes('aria-label')).toBe('Roles')
    expect(control.text()).toContain('MEMBER Member')
    expect(control.text()).toContain('ODD')
  })
  it('is found by other ways in which it was written, and kept as text', async () => {
    const control = several('MEMBER')
    await typing(control, 'kanz')
    expect(now(control)).toBe('MEMBER; REGIST')
  })
  it('keeps what the file had and is no code, and takes in nothing that is none', async () => {
    const control = several('ODD')
    await typing(control, 'HARBOUR')
    expect(now(control)).toBeUndefined()
    await typing(control, 'member')
    expect(now(control)).toBe('ODD; MEMBER')
  })
})

describe('a day among very many', () => {
  it('is a plain box until it has the focus', async () => {
    const control = field('2026-09-01', { light: true })
    expect(control.find('.ant-picker').exists()).toBe(false)
    expect(control.get('input').element.value).toBe('1 Sep 2026')
    await control.get('input').trigger('focus')
    await nextTick()
    expect(control.find('.ant-picker').exists()).toBe(true)
    expect(control.get('input').attributes('aria-label')).toBe('Until')
    expect(document.activeElement).toBe(control.get('input').element)
  })
})
