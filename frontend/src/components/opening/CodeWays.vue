<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { OpeningColumn } from '@/api/types'
import { count } from '@/logic/words'

/** The codes that are proposed for a column: what is one code written in several ways, what is none. */
const props = defineProps<{ column: OpeningColumn }>()
const emit = defineEmits<{ sort: [text: string, meant: string] }>()

const homes = computed(() =>
  props.column.codes.map((one) => ({
    value: one.ways[0]?.text ?? one.code,
    label: one.label || one.code,
    also: one.code,
  })),
)
const choicesFor = (text: string) => [
  { value: text, label: 'a code of its own' },
  ...homes.value.filter((one) => one.value !== text),
]
const nothing = computed({ get: () => '', set: () => undefined })
const unsure = (code: OpeningColumn['codes'][number]) =>
  code.ways.slice(1).filter((way) => !way.sure)
const also = (code: OpeningColumn['codes'][number]) => code.ways.slice(1).filter((way) => way.sure)
</script>

<template>
  <table class="list">
    <thead>
      <tr>
        <th>code</th>
        <th>label</th>
        <th v-if="column.parent">under</th>
        <th class="n">rows</th>
        <th>also written</th>
        <th><span class="unseen">what to do</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="code in column.codes" :key="code.code">
        <td class="mono">{{ code.code }}</td>
        <td>{{ code.label }}</td>
        <td v-if="column.parent" class="mono">{{ code.parent }}</td>
        <td class="n">{{ count(code.rows) }}</td>
        <td class="soft">
          <template v-for="(way, index) in also(code)" :key="way.text"
            >{{ index ? ', ' : '' }}<bdi>{{ way.text }}</bdi></template
          >
        </td>
        <td>
          <span v-for="way in unsure(code)" :key="way.text" class="maybe">
            <bdi>“{{ way.text }}”</bdi> {{ count(way.rows) }}
            <button class="link" @click="emit('sort', way.text, code.ways[0]?.text ?? '')">
              one code
            </button>
            ·
            <button class="link" @click="emit('sort', way.text, way.text)">keep apart</button>
          </span>
        </td>
      </tr>
      <tr v-for="one in column.none" :key="one.text">
        <td class="soft">none</td>
        <td>
          <bdi>“{{ one.text }}”</bdi>
        </td>
        <td v-if="column.parent" />
        <td class="n">{{ count(one.rows) }}</td>
        <td class="soft">stops its rows</td>
        <td class="put">
          <ChooseOne
            v-model="nothing"
            :options="choicesFor(one.text)"
            :label="`What ${one.text} stands for`"
            placeholder="stands for …"
            @update:model-value="(meant) => meant && emit('sort', one.text, meant)"
          />
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table.list {
  width: auto;
  min-width: min(620px, 100%);
  font-size: 13px;
}
table.list td {
  white-space: normal;
}
.maybe {
  display: block;
}
.put {
  min-width: 180px;
}
</style>
