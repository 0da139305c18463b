<script setup lang="ts">
import { computed } from 'vue'
import { byTitle } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import TextBox from '@/components/TextBox.vue'
import type { LayoutHere } from '@/api/types'
import type { LayoutDocument, Put } from '@/logic/layout'
import { count } from '@/logic/words'

const layout = defineModel<LayoutDocument>({ required: true })
const props = defineProps<{ here: LayoutHere; locked: boolean }>()

const NOTHING = { value: '', label: 'nothing' }
const SAME = { value: '=', label: 'the same for everybody' }
const AS_IS = { value: '', label: 'as it is' }
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
function choose(name: string, role: string, to: string): void {
  put(name, role, to === '' ? null : to === '=' ? { to: name, fill: '' } : { to: name, from: to })
}
const fill = (name: string, role: string, text: string) => put(name, role, { to: name, fill: text })
const typed = (event: Event) => (event.target as HTMLInputElement).value
const theirs = (codes: LayoutHere['theirs'][number]['codes']) =>
  codes.map((to) => ({
    value: to.code ?? '',
    label: `${to.code} ${to.label}${to.last_day ? ' (retired)' : ''}`,
  }))
function code(name: string, role: string, from: string, to: string): void {
  const now = putOf(name)
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
          <ChooseOne
            :model-value="kind(one.name)"
            :options="[NOTHING, ...(one.role ? [] : [SAME]), ...byTitle(here.ours)]"
            :label="`What goes to ${one.title}`"
            :disabled="locked"
            @update:model-value="(to) => choose(one.name, one.role, to ?? '')"
          />
          <template v-if="kind(one.name) === '='">
            <ChooseOne
              v-if="one.codes.length"
              :model-value="putOf(one.name)?.fill ?? ''"
              :options="theirs(one.codes)"
              :label="`${one.title} of everybody`"
              placeholder="choose a code"
              :disabled="locked"
              @update:model-value="(code) => fill(one.name, one.role, code ?? '')"
            />
            <TextBox
              v-else
              class="box"
              :model-value="putOf(one.name)?.fill"
              :disabled="locked"
              :aria-label="`${one.title} of everybody`"
              @change="fill(one.name, one.role, typed($event))"
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
              <ChooseOne
                :model-value="putOf(one.name)?.codes?.[each.code!] ?? ''"
                :options="[AS_IS, ...theirs(one.codes)]"
                :label="`${one.title} of ${each.code}`"
                :disabled="locked"
                @update:model-value="(to) => code(one.name, one.role, each.code!, to ?? '')"
              />
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
