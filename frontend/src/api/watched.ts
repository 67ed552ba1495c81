// A request whose sending is watched: fetch itself tells nothing of how much has gone.
export function watched(told: (share: number) => void) {
  return async (request: Request): Promise<Response> => {
    const body = await request.arrayBuffer()
    return new Promise((resolve, reject) => {
      const sent = new XMLHttpRequest()
      sent.open(request.method, request.url)
      request.headers.forEach((value, name) => sent.setRequestHeader(name, value))
      sent.upload.onprogress = (e) => {
        if (e.lengthComputable) told(e.loaded / e.total)
      }
      sent.onload = () => {
        const headers = { 'Content-Type': sent.getResponseHeader('Content-Type') ?? '' }
        resolve(new Response(sent.responseText || null, { status: sent.status, headers }))
      }
      sent.onerror = () => reject(new TypeError('The server is not reached.'))
      sent.send(body)
    })
  }
}
