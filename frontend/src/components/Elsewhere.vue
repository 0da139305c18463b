<script setup lang="ts">
import { computed, ref } from 'vue'
import { Popover } from 'ant-design-vue'
import { moment, momentInFull } from '@/logic/words'
import { useSession } from '@/composables/useSession'

/** Tells somebody that their account is signed in at a second place too. */
const session = useSession()
const open = ref(false)
const now = computed(() => (open.value ? new Date() : new Date(0)))
const problem = ref('')
/** Those who are at the same address are not told of: as a rule another window. */
const places = computed(() =>
  (session.state.me?.elsewhere ?? []).filter((one) => one.address !== session.state.me?.address),
)

async function endThere(): Promise<void> {
  problem.value = ''
  try {
    await session.endOthers()
    open.value = false
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <Popover v-if="places.length" v-model:open="open" trigger="click" placement="bottomRight">
    <button class="btn" :aria-expanded="open">Signed in elsewhere too</button>
    <template #content>
      <div class="there">
        <p>Your account is also signed in from</p>
        <ul>
          <li v-for="one in places" :key="one.address + one.at">
            <b class="mono">{{ one.address || 'an unknown address' }}</b><br />since
            {{ momentInFull(one.at) }}, last used {{ moment(one.seen, now) }}
          </li>
        </ul>
        <p class="soft">If that is not you, sign out there and have your password changed.</p>
        <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
        <button class="btn main" @click="endThere">Sign out there</button>
        <button class="btn" @click="open = false">That is me</button>
      </div>
    </template>
  </Popover>
</template>

<style scoped>
.there {
  width: 340px;
}
ul {
  margin: 6px 0 10px;
  padding: 0;
  list-style: none;
}
li {
  padding: 5px 0;
  border-top: 1px solid var(--line);
}
.btn + .btn {
  margin-left: 8px;
}
.flag {
  margin: 8px 0;
}
.soft {
  margin-bottom: 10px;
}
</style>
