<script setup lang="ts">
import { nextTick, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import CodeField from '@/components/setup/CodeField.vue'
import { ApiError } from '@/api/client'
import { useHouse } from '@/composables/useHouse'
import { useSession } from '@/composables/useSession'
import { useWait } from '@/composables/useWait'

const route = useRoute()
const router = useRouter()
const session = useSession()
const name = ref('')
const password = ref('')
/** The code of the second step, once it is asked for. */
const code = ref('')
const needsCode = ref(false)
const problem = ref('')
const working = ref(false)
const { wait, words: waiting, hold: holdBack } = useWait(() => (problem.value = ''))
const first = ref<HTMLInputElement>()
const codeField = ref<InstanceType<typeof CodeField>>()

async function begin(): Promise<void> {
  if (working.value || wait.value > 0) return
  working.value = true
  problem.value = ''
  try {
    await session.begin(name.value.trim(), password.value, code.value)
    const to = String(route.query.to ?? '/')
    await router.push(to.startsWith('/') && !to.startsWith('//') ? to : '/')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    if (error instanceof ApiError && error.status === 429)
      holdBack(Number(error.problem.seconds ?? 1))
    else if (error instanceof ApiError && error.problem.needs === 'code') await askForCode(error)
    else password.value = code.value = ''
  } finally {
    working.value = false
  }
}

async function askForCode(error: ApiError): Promise<void> {
  if (!error.problem.wrong) problem.value = ''
  needsCode.value = true
  code.value = ''
  await nextTick()
  codeField.value?.focus()
}
const { first: house, ask: askHouse } = useHouse()
onMounted(() => {
  first.value?.focus()
  void askHouse()
})
</script>

<template>
  <section class="sign-in">
    <div class="sample" aria-hidden="true">
      <i class="l-new" /><i class="l-changed" /><i class="l-same" /><i class="l-waiting" /><i
        class="l-stopped"
      /><i class="l-held" /><i class="ground" /><i class="l-absent" />
    </div>
    <form @submit.prevent="begin">
      <h1>Nevefield</h1>
      <p v-if="house?.institution" class="house">
        <i :style="{ background: house.colour }" aria-hidden="true">{{
          house.institution.slice(0, 1)
        }}</i>
        {{ house.institution }}
      </p>
      <p v-else class="soft">The desk of whoever keeps the rosters true.</p>
      <p v-if="house?.needed" class="flag" role="status">
        Nobody can sign in yet. The first account is made by the link that was printed when
        Nevefield was started.
      </p>
      <label
        >Sign-in name
        <input ref="first" v-model="name" class="box" autocomplete="username" required
      /></label>
      <label
        >Password
        <input
          v-model="password"
          class="box"
          type="password"
          autocomplete="current-password"
          required
      /></label>
      <CodeField v-if="needsCode" ref="codeField" v-model="code" />
      <p v-if="wait > 0" class="flag ask" role="alert">
        Too many tries did not fit. Another one is taken in <b>{{ waiting }}</b>; your words stay
        here.
      </p>
      <p v-else-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <button class="btn main" :disabled="working || wait > 0">
        {{ working ? 'Signing in …' : 'Sign in' }}
      </button>
    </form>
  </section>
</template>

<style scoped>
.sign-in {
  margin: auto;
  display: flex;
  gap: 44px;
  align-items: stretch;
}
.sample {
  width: 72px;
  display: flex;
  flex-direction: column;
}
.sample i {
  display: block;
  margin-bottom: 2px;
  height: 14px;
}
.sample .l-new {
  flex: 5;
}
.sample .l-changed {
  flex: 1;
}
.sample .l-same {
  flex: 2;
}
.sample .ground {
  height: 2px;
  background: var(--ink);
  margin: 4px -10px 6px;
}
form {
  width: 300px;
  padding: 10px 0;
}
h1 {
  font-size: 26px;
  line-height: 32px;
  font-weight: 600;
}
label {
  display: block;
  margin-top: 16px;
  font-weight: 600;
}
label .box {
  display: block;
  width: 100%;
  height: 34px;
  margin-top: 4px;
  font-size: 15px;
  font-weight: 400;
}
.flag {
  margin-top: 14px;
}
.btn {
  margin-top: 18px;
  padding: 6px 18px;
  font-size: 14px;
}
.house {
  display: flex;
  gap: 8px;
  align-items: center;
  overflow-wrap: anywhere;
}
.house i {
  flex: 0 0 22px;
  height: 22px;
  display: grid;
  place-items: center;
  color: #fff;
  font-style: normal;
  font-weight: 600;
}
</style>
