<script setup lang="ts">
import { computed } from 'vue'
import { byTitle, ofPairs } from '@/logic/choices'
import ConditionValue from './ConditionValue.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import TextBox from '@/components/TextBox.vue'
import type { Condition, FieldDocument } from '@/api/types'
import { comparison, condition, TESTS } from '@/logic/definition'

const props = defineProps<{ fields: FieldDocument[]; locked: boolean }>()
const when = defineModel<Condition>({ required: true })

const JOINTS = ofPairs([
  ['all', 'all of these hold'],
  ['any', 'at least one of these holds'],
  ['none', 'none of these holds'],
] as const)
const joint = computed(() => (['all', 'any', 'none'] as const).find((name) => when.value[name]))
const parts = computed<Condition[]>(() =>
  joint.value ? (when.value[joint.value] ?? []) : [when.value],
)

/** One condition stands alone; several are joined, by "all" unless said otherwise. */
function put(list: Condition[], by = joint.value ?? 'all'): void {
  when.value = list.length === 1 && by !== 'none' ? list[0]! : { [by]: list }
}

function change(place: number, field: string, test: string, text: string): void {
  const old = parts.value[place]
  put(
    parts.value.map((one, at) =>
      at === place ? condition(field, test, text, String(old?.on ?? '')) : one,
    ),
  )
}

const add = () => put([...parts.value, condition(props.fields[0]?.name ?? '', 'is', '')])
const drop = (place: number) => put(parts.value.filter((_, at) => at !== place))
const nested = (one: Condition) => !one.field
const text = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <div class="condition">
    <p v-if="parts.length > 1 || joint === 'none'">
      where
      <ChooseOne
        :model-value="joint ?? 'all'"
        :options="JOINTS"
        label="How the conditions are joined"
        :disabled="locked"
        @update:model-value="(by) => put(parts, by ?? 'all')"
      />
    </p>
    <p v-for="(one, place) in parts" :key="place" class="part">
      <code v-if="nested(one)" class="mono">{{ JSON.stringify(one) }}</code>
      <template v-else>
        <ChooseOne
          :model-value="String(one.field)"
          :options="byTitle(fields)"
          label="Field"
          :disabled="locked"
          @update:model-value="(name) => change(place, name ?? '', ...comparison(one))"
        />
        <ChooseOne
          :model-value="comparison(one)[0]"
          :options="ofPairs(TESTS)"
          label="Comparison"
          :disabled="locked"
          @update:model-value="
            (test) => change(place, String(one.field), test ?? '', comparison(one)[1])
          "
        />
        <ConditionValue
          v-if="!['filled', 'empty'].includes(comparison(one)[0])"
          :field="fields.find((field) => field.name === one.field)"
          :test="comparison(one)[0]"
          :text="comparison(one)[1]"
          :locked="locked"
          @change="(said) => change(place, String(one.field), comparison(one)[0], said)"
        />
        <template v-if="['under', 'age'].includes(comparison(one)[0])"
          >on
          <TextBox
            class="box day"
            :model-value="one.on ?? 'today'"
            :disabled="locked"
            aria-label="Day of the age"
            placeholder="2026-09-01 or today"
            @change="
              put(
                parts.map((two, at) =>
                  at === place ? { ...two, on: text($event) || 'today' } : two,
                ),
              )
            "
        /></template>
      </template>
      <button
        v-if="parts.length > 1"
        type="button"
        class="btn"
        :disabled="locked"
        aria-label="Take this condition away"
        @click="drop(place)"
      >
        Remove
      </button>
    </p>
    <button type="button" class="link" :disabled="locked" @click="add">
      and another condition
    </button>
  </div>
</template>

<style scoped>
.condition {
  border-left: 2px solid var(--line);
  padding-left: 10px;
}
.part {
  display: flex;
  gap: 6px;
  align-items: center;
  margin: 4px 0;
  flex-wrap: wrap;
}
.day {
  width: 110px;
}
</style>
