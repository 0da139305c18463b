<script setup lang="ts">
import { computed } from 'vue'
import TextBox from '@/components/TextBox.vue'
import type { Condition, FieldDocument } from '@/api/types'
import { comparison, condition, TESTS } from '@/logic/definition'

const props = defineProps<{ fields: FieldDocument[]; locked: boolean }>()
const when = defineModel<Condition>({ required: true })

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
      <select
        class="box"
        :value="joint ?? 'all'"
        :disabled="locked"
        aria-label="How the conditions are joined"
        @change="put(parts, text($event) as 'all')"
      >
        <option value="all">all of these hold</option>
        <option value="any">at least one of these holds</option>
        <option value="none">none of these holds</option>
      </select>
    </p>
    <p v-for="(one, place) in parts" :key="place" class="part">
      <code v-if="nested(one)" class="mono">{{ JSON.stringify(one) }}</code>
      <template v-else>
        <select
          class="box"
          :value="one.field"
          :disabled="locked"
          aria-label="Field"
          @change="change(place, text($event), ...comparison(one))"
        >
          <option v-for="field in fields" :key="field.name" :value="field.name">
            {{ field.title ?? field.name }}
          </option>
        </select>
        <select
          class="box"
          :value="comparison(one)[0]"
          :disabled="locked"
          aria-label="Comparison"
          @change="change(place, String(one.field), text($event), comparison(one)[1])"
        >
          <option v-for="[name, word] in TESTS" :key="name" :value="name">{{ word }}</option>
        </select>
        <TextBox
          v-if="!['filled', 'empty'].includes(comparison(one)[0])"
          class="box value"
          :model-value="comparison(one)[1]"
          :disabled="locked"
          aria-label="Value"
          placeholder="value; another value"
          @change="change(place, String(one.field), comparison(one)[0], text($event))"
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
        Take away
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
}
.value {
  width: 150px;
}
.day {
  width: 110px;
}
</style>
