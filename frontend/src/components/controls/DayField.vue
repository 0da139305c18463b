<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { DatePicker } from 'ant-design-vue'
import britain from 'ant-design-vue/es/date-picker/locale/en_GB'
import dayjs, { type Dayjs } from 'dayjs'
import 'dayjs/locale/en-gb'
import { useInputName } from '@/composables/useInputName'
import { ISO, SHOWN, TYPED } from '@/logic/days'

/** A day as ISO 8601, or '' for none; typed in any usual way, or chosen. */
const props = defineProps<{
  /** What day it is, for who does not see it. */
  label: string
  /** The first day that may be chosen. */
  min?: string
  disabled?: boolean
  /** Whether there may be none. */
  needed?: boolean
  /** What stands here for none. */
  placeholder?: string
  /** One of very many on a page: a plain box until it has the focus. */
  light?: boolean
}>()
const day = defineModel<string>({ required: true })

const { control: picker } = useInputName('picker', () => props.label)
const awake = ref(!props.light)
async function wake(): Promise<void> {
  awake.value = true
  await nextTick()
  picker.value?.focus()
}
defineExpose({ focus: () => void wake() })
const shown = computed(() => (day.value ? dayjs(day.value, ISO) : undefined))
/** Weeks begin on Monday (ISO 8601). */
const WEEKS = { ...britain, lang: { ...britain.lang, locale: 'en_GB' } }
const isEarly = (one: Dayjs) => !!props.min && one.format(ISO) < props.min
function choose(one: Dayjs | string | null): void {
  day.value = one ? dayjs(one).format(ISO) : ''
}
</script>

<template>
  <input
    v-if="!awake"
    class="box day"
    :value="shown?.format(SHOWN) ?? ''"
    :aria-label="label"
    :disabled="disabled"
    :placeholder="placeholder ?? '1 Sep 2026'"
    readonly
    @focus="wake"
  />
  <DatePicker
    v-else
    ref="picker"
    class="day"
    :value="shown"
    :locale="WEEKS"
    :format="[SHOWN, ...TYPED]"
    :disabled="disabled"
    :disabled-date="isEarly"
    :allow-clear="!needed"
    :placeholder="placeholder ?? '1 Sep 2026'"
    @change="choose"
  />
</template>

<style scoped>
.day {
  width: 142px;
}
</style>
