<script setup lang="ts">
import { computed } from 'vue'
import Suggested from '@/components/controls/Suggested.vue'
import DayField from '@/components/controls/DayField.vue'
import TextBox from '@/components/TextBox.vue'
import YearBar from '@/components/YearBar.vue'
import type { Code } from '@/api/types'
import { asTree } from '@/logic/codetree'
import { ofCodes, type Choice } from '@/logic/choices'
import { count, show } from '@/logic/words'

defineProps<{ may: boolean }>()
const codes = defineModel<Code[]>({ required: true })
const rows = computed(() =>
  asTree(codes.value).map((row) => ({ ...row, one: codes.value[row.index]! })),
)
const hasParents = computed(() => codes.value.some((one) => one.parent))
const most = computed(() => Math.max(1, ...codes.value.map((one) => one.used)))

const aliases = (one: Code) => one.aliases.join('; ')
const setAliases = (one: Code, event: Event) =>
  (one.aliases = (event.target as HTMLInputElement).value
    .split(';')
    .map((part) => part.trim())
    .filter(Boolean))
/**
 * What a code may stand under: a code of another list that others stand under already, or one of
 * this list; no code under itself, however far down.
 */
function parentsFor(one: Code): Choice<string>[] {
  const under = (code: string, seen = new Set<string>()): boolean => {
    if (!code || seen.has(code)) return false
    if (code === one.code) return true
    seen.add(code)
    return under(codes.value.find((other) => other.code === code)?.parent ?? '', seen)
  }
  const own = new Set(codes.value.map((other) => other.code))
  const others = new Set(codes.value.map((other) => other.parent).filter((code) => !own.has(code)))
  return [
    ...[...others].filter(Boolean).map((code) => ({ value: code, label: code })),
    ...ofCodes(codes.value.filter((other) => other.code && !under(other.code))).map((choice) => ({
      ...choice,
      group: undefined,
    })),
  ]
}
</script>

<template>
  <table class="list">
    <thead>
      <tr>
        <th>code</th>
        <th>label</th>
        <th>parent</th>
        <th>what others call it</th>
        <th>first day</th>
        <th>last day</th>
        <th>this year</th>
        <th class="n">records</th>
        <th />
      </tr>
    </thead>
    <tbody>
      <template v-for="{ one, index, depth, under } in rows" :key="index">
        <tr v-if="under" class="under">
          <th colspan="9" scope="rowgroup">
            under <span class="mono">{{ under }}</span>
          </th>
        </tr>
        <tr>
          <template v-if="may">
            <td :style="{ paddingLeft: hasParents ? `${8 + depth * 18}px` : undefined }">
              <input
                v-model="one.code"
                class="box mono code"
                :disabled="one.used > 0"
                :title="one.used ? 'Records use it: give it a last day instead' : ''"
                aria-label="Code"
              />
            </td>
            <td>
              <input v-model="one.label" class="box label" :aria-label="`Label of ${one.code}`" />
            </td>
            <td>
              <Suggested
                :model-value="one.parent"
                :options="parentsFor(one)"
                :label="`Parent of ${one.code}`"
                @update:model-value="(code) => (one.parent = code)"
              />
            </td>
            <td>
              <TextBox
                class="box wide"
                :model-value="aliases(one)"
                :aria-label="`Other names of ${one.code}`"
                @change="setAliases(one, $event)"
              />
            </td>
            <td>
              <DayField
                light
                placeholder="always"
                :model-value="one.first_day ?? ''"
                :label="`First day of ${one.code}`"
                @update:model-value="(day) => (one.first_day = day || null)"
              />
            </td>
            <td>
              <DayField
                light
                placeholder="open"
                :model-value="one.last_day ?? ''"
                :label="`Last day of ${one.code}`"
                @update:model-value="(day) => (one.last_day = day || null)"
              />
            </td>
          </template>
          <template v-else>
            <td
              class="mono"
              :style="{ paddingLeft: hasParents ? `${8 + depth * 18}px` : undefined }"
            >
              {{ one.code }}
            </td>
            <td>{{ one.label }}</td>
            <td class="mono">{{ one.parent }}</td>
            <td class="soft">{{ aliases(one) }}</td>
            <td>{{ show(one.first_day) }}</td>
            <td>{{ show(one.last_day) }}</td>
          </template>
          <td><YearBar :first="one.first_day ?? null" :last="one.last_day ?? null" /></td>
          <td class="n used">
            <i :style="{ width: `${(one.used / most) * 40}px` }" />{{ count(one.used) }}
          </td>
          <td>
            <button
              v-if="may && !one.used"
              class="btn"
              :aria-label="`Remove ${one.code || 'the empty code'}`"
              @click="codes.splice(index, 1)"
            >
              Remove
            </button>
          </td>
        </tr>
      </template>
    </tbody>
  </table>
</template>

<style scoped>
td {
  height: 36px !important;
}
.under th {
  padding-top: 10px;
  text-align: left;
  font-weight: 400;
  color: var(--ink2);
}
td,
thead th {
  padding-left: 6px;
  padding-right: 6px;
}
.code {
  width: 82px;
}
.label {
  width: 138px;
}
.day {
  width: 98px;
}
.wide {
  width: 100%;
  min-width: 110px;
}
.used i {
  display: inline-block;
  height: 8px;
  background: var(--spark2);
  margin-right: 8px;
  vertical-align: 0;
}
</style>
