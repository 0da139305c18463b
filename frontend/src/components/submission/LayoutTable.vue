<script setup lang="ts">
import { computed } from 'vue'
import TextBox from '@/components/TextBox.vue'
import type { LayoutHere } from '@/api/types'
import type { LayoutDocument, Put } from '@/logic/layout'
import { count } from '@/logic/words'

const layout = defineModel<LayoutDocument>({ required: true })
const props = defineProps<{ here: LayoutHere; locked: boolean }>()

const plain = computed(() => props.here.theirs.filter((one) => one.role !== 'asked'))
const putOf = (name: string): Put | undefined =>
  layout.value.reference?.to === name
    ? layout.value.reference
    : layout.value.number?.to === name
      ? layout.value.number
      : layout.value.fields.find((one) => one.to === name)
const ours = (name: string | undefined) => props.here.ours.find((one) => one.name === name)
const kind = (name: string) =>
  putOf(name) ? ('fill' in putOf(name)! ? '=' : (putOf(name)!.from ?? '')) : ''
const coded = (name: string) => props.here.theirs.find((one) => one.name === name)?.codes ?? []

function put(name: string, role: string, made: Put | null): void {
  if (role === 'reference') layout.value = { ...layout.value, reference: made ?? undefined }
  else if (role === 'number') {
    const asked = props.here.theirs.find((one) => one.role === 'asked')?.name ?? ''
    layout.value = { ...layout.value, number: made ? { ...made, asked } : undefined }
  } else {
    const rest = layout.value.fields.filter((one) => one.to !== name)
    const order = props.here.theirs.map((one) => one.name)
    layout.value = {
      ...layout.value,
      fields: (made ? [...rest, made] : rest).sort(
        (left, right) => order.indexOf(left.to) - order.indexOf(right.to),
      ),
    }
  }
}
function choose(name: string, role: string, event: Event): void {
  const to = (event.target as HTMLSelectElement).value
  put(name, role, to === '' ? null : to === '=' ? { to: name, fill: '' } : { to: name, from: to })
}
const fill = (name: string, role: string, event: Event) =>
  put(name, role, { to: name, fill: (event.target as HTMLInputElement | HTMLSelectElement).value })
function code(name: string, role: string, from: string, event: Event): void {
  const now = putOf(name)
  const to = (event.target as HTMLSelectElement).value
  const codes = { ...(now?.codes ?? {}) }
  if (to) codes[from] = to
  else delete codes[from]
  put(name, role, { to: name, from: now?.from ?? '', codes })
}
const lacking = (name: string) =>
  (ours(putOf(name)?.from)?.codes ?? []).filter(
    (one) =>
      !putOf(name)?.codes?.[one.code!] && !coded(name).some((each) => each.code === one.code),
  ).length
</script>

<template>
  <table class="list lay">
    <thead>
      <tr>
        <th>{{ here.authority }} asks for</th>
        <th>What goes there</th>
        <th>Codes: ours → theirs</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in plain" :key="one.name">
        <td>
          <b>{{ one.title }}</b><span v-if="one.is_needed || one.role" class="need" title="needed"
            >needed</span
          ><br /><span class="mono soft">{{ one.name }}</span>
        </td>
        <td>
          <select
            class="box"
            :value="kind(one.name)"
            :disabled="locked"
            :aria-label="`What goes to ${one.title}`"
            @change="choose(one.name, one.role, $event)"
          >
            <option value="">nothing</option>
            <option v-if="!one.role" value="=">the same for everybody</option>
            <option v-for="each in here.ours" :key="each.name" :value="each.name">
              {{ each.title }}
            </option>
          </select>
          <template v-if="kind(one.name) === '='">
            <select
              v-if="one.codes.length"
              class="box"
              :value="putOf(one.name)?.fill"
              :disabled="locked"
              :aria-label="`${one.title} of everybody`"
              @change="fill(one.name, one.role, $event)"
            >
              <option value="" />
              <option v-for="each in one.codes" :key="each.code" :value="each.code">
                {{ each.code }} {{ each.label }}
              </option>
            </select>
            <TextBox
              v-else
              class="box"
              :model-value="putOf(one.name)?.fill"
              :disabled="locked"
              :aria-label="`${one.title} of everybody`"
              @change="fill(one.name, one.role, $event)"
            />
          </template>
          <span v-if="!kind(one.name) && (one.is_needed || one.role)" class="bad small">
            needed: choose one</span
          >
        </td>
        <td>
          <details
            v-if="one.codes.length && ours(putOf(one.name)?.from)?.codes.length"
            :open="lacking(one.name) > 0"
          >
            <summary>
              {{ count(ours(putOf(one.name)?.from)!.codes.length) }} codes<span
                v-if="lacking(one.name)"
                class="bad"
                >, {{ lacking(one.name) }}
                {{ lacking(one.name) === 1 ? 'goes as it is' : 'go as they are' }}, which
                {{ here.authority }} does not know</span
              >
            </summary>
            <div v-for="each in ours(putOf(one.name)?.from)!.codes" :key="each.code" class="pair">
              <span
                >{{ each.code }} <span class="soft">{{ each.label }}</span></span
              >
              <select
                class="box"
                :value="putOf(one.name)?.codes?.[each.code!] ?? ''"
                :disabled="locked"
                :aria-label="`${one.title} of ${each.code}`"
                @change="code(one.name, one.role, each.code!, $event)"
              >
                <option value="">as it is</option>
                <option v-for="to in one.codes" :key="to.code" :value="to.code">
                  {{ to.code }} {{ to.label }}{{ to.last_day ? ' (retired)' : '' }}
                </option>
              </select>
            </div>
          </details>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.lay td {
  height: auto;
  padding: 6px 8px;
  vertical-align: top;
  white-space: normal;
}
.need {
  font-size: 12px;
  color: var(--ink2);
  border: 1px solid var(--line);
  padding: 0 5px;
  margin-left: 6px;
}
.pair {
  display: grid;
  grid-template-columns: 220px 240px;
  gap: 8px;
  align-items: center;
  padding: 2px 0;
}
summary {
  cursor: pointer;
}
select.box {
  max-width: 240px;
}
select + select,
select + input {
  margin-left: 6px;
}
</style>
